import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { api, got, type Clock, type MomentKind } from "./api";
import { say } from "./notices";

/** A moment of a job, as far as something can be said of it. */
export type Of = { job_id: string; tag: string; kind: MomentKind; to?: string | undefined };

/** What is said of a moment; nothing takes back what was said. */
export type Said = { done?: boolean; minutes?: number; person_id?: string };

/** Says something of a moment, for all devices, and tells what was said with a way back. */
export function useSay() {
  const queries = useQueryClient();
  return useCallback(
    (m: Of, said: Said, words: string) => {
      const send = (body: Said) =>
        got(api.PUT("/api/jobs/{id}/moments/{kind}", { params: { path: { id: m.job_id, kind: m.kind } }, body })).then(
          (clock: Clock) => {
            queries.setQueryData(["clock"], clock);
            void queries.invalidateQueries({ queryKey: ["jobs"] });
            void queries.invalidateQueries({ queryKey: ["job", m.job_id] });
          },
        );
      void send(said).then(
        () => {
          const undo = () =>
            void send({}).then(
              () => say({ text: `Taken back: ${m.tag}, ${words}.` }),
              (error: Error) => say({ text: `Not taken back. ${error.message}`, kind: "act" }),
            );
          say({ text: `${m.tag}: ${words}.`, kind: "ok", act: { word: "Undo", run: undo } });
        },
        (error: Error) => say({ text: `${m.tag}: not saved. ${error.message}`, kind: "act" }),
      );
    },
    [queries],
  );
}

/** How much later a moment may be put off to, minutes, in words. */
export const LATER: [number, string][] = [
  [10, "In 10 min"],
  [30, "In 30 min"],
  [120, "In 2 h"],
];
