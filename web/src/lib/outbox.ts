import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect, useSyncExternalStore } from "react";
import { api, got, Refused, type Reading } from "./api";
import { isDown, onReturn } from "./line";
import { say } from "./notices";
import { showSheet } from "./queries";
import { keep, kept, keptUnder } from "./shelf";

/** A reading that waits on this device for the line. */
export type Waiting = {
  id: string;
  job: string;
  tag: string;
  kind: string;
  text: string;
  reading: Reading;
  replaces?: string;
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

/** Sends what waits, in the order it was entered. */
async function send(queries: QueryClient) {
  if (sending) return;
  sending = true;
  let sent = 0;
  try {
    for (const w of list) {
      if (w.refused || isDown()) continue;
      try {
        const { job, id, reading, replaces } = w;
        const sheet = await got(
          api.POST("/api/jobs/{id}/readings", {
            params: { path: { id: job } },
            body: { id, reading, ...(replaces ? { replaces } : {}) },
          }),
        );
        showSheet(queries, sheet);
      } catch (error) {
        if (!(error instanceof Refused) || error.lost || error.status === 401 || error.status >= 500) break;
        if (!error.taken) {
          change((now) => now.map((one) => (one.id === w.id ? { ...one, refused: error.first } : one)));
          continue;
        }
        // Nobody edits what waits: the id is taken because an earlier try arrived.
        void queries.invalidateQueries({ queryKey: ["job", w.job] });
      }
      giveUp(w.id);
      sent++;
    }
  } finally {
    sending = false;
  }
  if (sent > 0)
    say({
      text: sent === 1 ? "The line is back: 1 reading was sent." : `The line is back: ${sent} readings were sent.`,
    });
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
