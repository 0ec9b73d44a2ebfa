import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, got, type Papers } from "./api";

const key = (id: string) => ["job", id, "papers"];

/** Notes, pictures and estimates of a job, and what is proposed for handing it over. */
export const usePapers = (id: string) =>
  useQuery({
    queryKey: key(id),
    queryFn: () => got(api.GET("/api/jobs/{id}/papers", { params: { path: { id } } })),
  });

/** Runs a change of what hangs on a job, and shows what it answers with. */
export function usePaperChange<V>(id: string, run: (v: V) => Promise<Papers>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (papers) => {
      void queries.cancelQueries({ queryKey: key(id), exact: true });
      queries.setQueryData(key(id), papers);
      void queries.invalidateQueries({ queryKey: ["job", id, "history"] });
    },
  });
}

/** How this device prints: its time zone, and the paper that is usual where it is. */
export function printing(): string {
  const letter = /^(en|es|fr)-(US|CA|MX)$/.test(navigator.language);
  return new URLSearchParams({
    zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    size: letter ? "Letter" : "A4",
  }).toString();
}

/** Whether the usual paper here is Letter. */
export const letterHere = () => printing().endsWith("Letter");
