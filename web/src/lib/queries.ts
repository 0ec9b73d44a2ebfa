import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, got, type Person, type Reading, type Session, type Sheet } from "./api";

export const useSession = () =>
  useQuery({ queryKey: ["session"], queryFn: () => got(api.GET("/api/session")), staleTime: 60_000 });

export const useJobs = (closed: boolean, find: string) =>
  useQuery({
    queryKey: ["jobs", closed, find],
    queryFn: () => got(api.GET("/api/jobs", { params: { query: { closed, find } } })),
    refetchInterval: 30_000,
    placeholderData: keepPreviousData,
  });

export const useClock = () =>
  useQuery({ queryKey: ["clock"], queryFn: () => got(api.GET("/api/clock")), refetchInterval: 30_000 });

export const useChoices = () => useQuery({ queryKey: ["choices"], queryFn: () => got(api.GET("/api/choices")) });

export const useRules = () => useQuery({ queryKey: ["rules"], queryFn: () => got(api.GET("/api/rules")) });

export const useSheet = (id: string) =>
  useQuery({
    queryKey: ["job", id],
    queryFn: () => got(api.GET("/api/jobs/{id}", { params: { path: { id } } })),
    refetchInterval: 60_000,
  });

/** What the sheet would say with a reading that is not saved yet. */
export const usePreview = (id: string, reading: Reading | undefined, replaces: string | undefined) =>
  useQuery({
    queryKey: ["job", id, "preview", reading, replaces],
    queryFn: () =>
      got(
        api.POST("/api/jobs/{id}/preview", {
          params: { path: { id } },
          body: { reading: reading!, ...(replaces ? { replaces } : {}) },
        }),
      ),
    enabled: reading !== undefined,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });

/** Runs a change of a job and shows the sheet it answers with. */
export function useJobChange<V>(id: string, run: (v: V) => Promise<Sheet>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (sheet) => {
      queries.setQueryData(["job", id], sheet);
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      void queries.invalidateQueries({ queryKey: ["clock"] });
    },
  });
}

/** Shows a session that a sign-in or a change of preferences answered with. */
export function useShowSession() {
  const queries = useQueryClient();
  return (session: Session) => queries.setQueryData(["session"], session);
}

/** The person signed in; only for screens inside the shell. */
export function usePerson(): Person {
  const session = useSession();
  const person = session.data?.person;
  if (!person) throw new Error("nobody is signed in");
  return person;
}
