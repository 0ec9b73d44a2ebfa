import { useQuery, useQueryClient } from "@tanstack/react-query";
import { v7 as uuid } from "uuid";
import { api, got, type Guide, type Site } from "../../lib/api";
import { tick, useWaiting, type Event } from "../../lib/outbox";
import { usePerson } from "../../lib/queries";

export type What = Event["what"];

const key = (job: string, what: What) => ["job", job, "guide", what];

export const useGuideQuery = (job: string, what: What) =>
  useQuery({
    queryKey: key(job, what),
    queryFn: () => got(api.GET("/api/jobs/{id}/guides/{what}", { params: { path: { id: job, what } } })),
    refetchInterval: 20_000,
  });

/** A guide as it stands with what was ticked here and is still on its way. */
export function withWaiting(guide: Guide, waiting: Event[], by: string): Guide {
  const out = { ...guide, done: [...(guide.done ?? [])], open: [...(guide.open ?? [])] };
  const move = (off: string[], back: string[]) => {
    out.open = out.open.filter((p) => !back.includes(p.code));
    for (const code of off)
      if (!out.open.some((p) => p.code === code))
        out.open.push(
          ...guide.parts.filter((p) => p.code === code).map((p) => ({ ...p, what: guide.what, job_id: "" })),
        );
  };
  for (const e of waiting) {
    const step = guide.steps.find((s) => s.code === e.step);
    const off = step?.off ?? [];
    const back = step?.back ?? [];
    if (e.kind === "put_back" && e.part) move([], [e.part]);
    else if (e.kind === "took_off" && e.part) move([e.part], []);
    else if (step && e.kind === "unticked") {
      const was = out.done.find((d) => d.step === step.code);
      out.done = out.done.filter((d) => d.step !== step.code);
      if (was?.kind === "ticked") move(back, off);
    } else if (step && (e.kind === "ticked" || e.kind === "skipped")) {
      out.done = [
        ...out.done.filter((d) => d.step !== step.code),
        { step: step.code, kind: e.kind, by, at: e.at, choice: e.choice ?? "" },
      ];
      if (e.kind === "ticked") move(off, back);
    }
  }
  const next = guide.steps.find((s) => !out.done.some((d) => d.step === s.code));
  if (next) out.now = next.code;
  else delete out.now;
  return out;
}

/** A job's guide, and what can be done with it; what is done counts at once and goes out in its turn. */
export function useGuide(job: string, what: What) {
  const queries = useQueryClient();
  const query = useGuideQuery(job, what);
  const person = usePerson();
  const mine = useWaiting().filter((w) => w.job === job && w.event?.what === what && !w.refused);
  const guide =
    query.data &&
    withWaiting(
      query.data,
      mine.flatMap((w) => w.event ?? []),
      person.name,
    );
  const event = (e: Omit<Event, "what" | "at">, text: string) =>
    tick(queries, {
      id: uuid(),
      job,
      tag: guide?.tag ?? "",
      kind: "guide",
      text,
      event: { ...e, what, at: new Date().toISOString() },
    });
  const show = (g: Guide) => {
    void queries.cancelQueries({ queryKey: key(job, what) });
    queries.setQueryData(key(job, what), g);
    void queries.invalidateQueries({ queryKey: ["job", job], exact: true });
    void queries.invalidateQueries({ queryKey: ["jobs"] });
  };
  const begin = async (site: Site, reason: string) =>
    show(
      await got(
        api.POST("/api/jobs/{id}/guides/{what}", {
          params: { path: { id: job, what } },
          body: { id: uuid(), site, ...(reason ? { reason } : {}) },
        }),
      ),
    );
  const change = async (site: Site) =>
    show(
      await got(
        api.PUT("/api/jobs/{id}/guides/{what}", {
          params: { path: { id: job, what } },
          body: { version: query.data?.run?.version ?? 0, site },
        }),
      ),
    );
  return { query, guide, event, begin, change };
}
