import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { api, got, Refused, type Reading } from "./api";
import { isDown, onReturn } from "./line";
import { say } from "./notices";
import { showSheet, showStored } from "./queries";
import { keep, kept, keptUnder } from "./shelf";

/** What was done with a guide. */
export type Event = {
  what: "clean" | "water" | "replace" | "store" | "wake";
  kind: "ticked" | "unticked" | "skipped" | "put_back" | "took_off";
  step?: string;
  choice?: string;
  part?: string;
  reason?: string;
  at: string;
};

/** What was seen of a stored battery. */
export type Look = {
  stored: string;
  at: string;
  rest_volts?: number;
  battery_c?: number;
  charged?: boolean;
  drive_minutes?: number;
};

/** A reading, or a tick of a guide, that waits on this device for the line. */
export type Waiting = {
  id: string;
  job: string;
  tag: string;
  kind: string;
  text: string;
  reading?: Reading;
  replaces?: string;
  event?: Event;
  /** What was seen of a battery that stands. */
  look?: Look;
  /** A tick that could not be sent at once; a reading waits here only then. */
  held?: true;
  /** Why the server would not take it; it stays until somebody has seen that. */
  refused?: string;
};

const none: Waiting[] = [];
let owner = "";
let list = none;
let sending = false;
const watching = new Set<() => void>();

const place = () => `outbox.${owner}`;

/** Changes what waits as it is now: another tab may have added to it. */
function change(to: (now: Waiting[]) => Waiting[]) {
  list = to(kept<Waiting[]>(place()) ?? list);
  keep(place(), list);
  for (const tell of watching) tell();
}

/** Keeps a reading until the line is back. */
export const putOff = (one: Waiting) => change((now) => [...now.filter((w) => w.id !== one.id), one]);

/** Gives up a reading that was refused. */
export const giveUp = (id: string) => change((now) => now.filter((w) => w.id !== id));

/** Keeps what was done with a guide, and sends it in its turn. */
export function tick(queries: QueryClient, one: Waiting) {
  putOff(one);
  void send(queries);
}

/** Sends one thing, and shows what it answers with. */
async function sendOne(queries: QueryClient, { job, id, reading, replaces, event, look }: Waiting) {
  if (look) {
    const { stored, ...body } = look;
    const answer = await got(
      api.POST("/api/season/{id}/looks", { params: { path: { id: stored } }, body: { id, ...body } }),
    );
    showStored(queries, answer);
    return;
  }
  if (event) {
    const { what, ...body } = event;
    const guide = await got(
      api.POST("/api/jobs/{id}/guides/{what}/events", { params: { path: { id: job, what } }, body: { id, ...body } }),
    );
    queries.setQueryData(["job", job, "guide", what], guide);
    void queries.invalidateQueries({ queryKey: ["job", job], exact: true });
    for (const key of ["jobs", "clock", "stock", "season"]) void queries.invalidateQueries({ queryKey: [key] });
    return;
  }
  const sheet = await got(
    api.POST("/api/jobs/{id}/readings", {
      params: { path: { id: job } },
      body: { id, reading: reading!, ...(replaces ? { replaces } : {}) },
    }),
  );
  showSheet(queries, sheet);
  void queries.invalidateQueries({ queryKey: ["job", job, "guide"] });
}

/** Sends what waits, in the order it was entered. */
async function send(queries: QueryClient) {
  if (sending) return;
  sending = true;
  let sent = 0;
  let ticks = false;
  const tried = new Set<string>();
  try {
    for (;;) {
      const w = list.find((one) => !one.refused && !tried.has(one.id));
      if (!w) break;
      if (isDown()) {
        change((now) => now.map((one) => (one.event && !one.held ? { ...one, held: true } : one)));
        break;
      }
      tried.add(w.id);
      try {
        await sendOne(queries, w);
      } catch (error) {
        if (!(error instanceof Refused) || error.lost || error.status === 401 || error.status >= 500) {
          change((now) => now.map((one) => (one.event && !one.held ? { ...one, held: true } : one)));
          break;
        }
        if (w.event && !w.held) {
          // Whoever ticked it is looking: what came after it does not stand either.
          giveUp(w.id);
          say({ text: error.first, kind: "stop" });
          void queries.invalidateQueries({ queryKey: ["job", w.job, "guide"] });
          continue;
        }
        if (!error.taken) {
          change((now) => now.map((one) => (one.id === w.id ? { ...one, refused: error.first } : one)));
          continue;
        }
        // Nobody edits what waits: the id is taken because an earlier try arrived.
        void queries.invalidateQueries({ queryKey: ["job", w.job] });
      }
      giveUp(w.id);
      if (w.event && !w.held) continue;
      sent++;
      ticks ||= w.event !== undefined;
    }
  } finally {
    sending = false;
  }
  if (sent > 0) say({ text: `The line is back: ${counted(sent, ticks)} sent.` });
}

/** So many readings, or entries where ticks are among them. */
function counted(n: number, ticks: boolean) {
  if (ticks) return n === 1 ? "1 entry was" : `${n} entries were`;
  return n === 1 ? "1 reading was" : `${n} readings were`;
}

/** Whose readings wait on this device, and how many: they go out when that person signs in. */
export const whoseWait = () =>
  keptUnder<Waiting[]>("outbox.")
    .map(([name, waiting]) => ({ name, n: waiting.length }))
    .filter(({ n }) => n > 0);

const watch = (tell: () => void) => {
  watching.add(tell);
  return () => void watching.delete(tell);
};

/** Everything that waits, ticks on their way too. */
export const useWaiting = () => useSyncExternalStore(watch, () => list);

/** Keeps one person's outbox, and sends it whenever the line stands. */
export function useOutbox(person: string) {
  const queries = useQueryClient();
  useEffect(() => {
    const load = () => {
      owner = person;
      list = kept<Waiting[]>(place()) ?? none;
      for (const tell of watching) tell();
    };
    load();
    const moved = (event: StorageEvent) => event.key === `grapnel.${place()}` && load();
    window.addEventListener("storage", moved);
    const go = () => void send(queries);
    const off = onReturn(go);
    go();
    return () => {
      window.removeEventListener("storage", moved);
      off();
    };
  }, [person, queries]);
}
