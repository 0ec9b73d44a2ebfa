import { createContext, useContext, useEffect } from "react";
import { keepPreviousData, useMutation, useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import {
  api,
  got,
  type Person,
  type Rate,
  type Reading,
  type Session,
  type Sheet,
  type StoredBody,
  type Unit,
} from "./api";

export const useSession = () => useQuery({ queryKey: ["session"], queryFn: getSession, staleTime: 60_000 });

/**
 * Asks at once for what the page shows first, beside the session instead of after
 * it; resolves when that is there. The page names the same addresses ahead, so
 * that the browser has asked for them before the program came.
 */
export async function ahead(queries: QueryClient) {
  const session = queries.prefetchQuery({ queryKey: ["session"], queryFn: getSession });
  const named = (url: string) =>
    document.querySelector(`link[rel=preload][href^="${url}"]`)?.getAttribute("href")?.slice(url.length);
  const id = named("/api/jobs/");
  if (named("/api/clock") !== undefined) void queries.prefetchQuery({ queryKey: ["clock"], queryFn: getClock });
  await Promise.all([
    session,
    named("/api/jobs?") !== undefined &&
      queries.prefetchQuery({ queryKey: ["jobs", inHand], queryFn: () => getJobs(inHand) }),
    id && queries.prefetchQuery({ queryKey: ["job", id], queryFn: () => getSheet(id) }),
  ]);
}

const getSession = () => got(api.GET("/api/session"));
const getClock = () => got(api.GET("/api/clock"));
const getJobs = (query: JobsQuery) => got(api.GET("/api/jobs", { params: { query } }));
const getSheet = (id: string) => got(api.GET("/api/jobs/{id}", { params: { path: { id } } }));

export type JobsQuery = { closed: boolean; find: string; wait?: "hands" | "clock"; by?: string; most?: number };

/** What the floor shows first. */
const inHand: JobsQuery = { closed: false, find: "" };

/** A part of the jobs from the first one on: so many, or as many as are given when nothing is said. */
export const useJobs = (query: JobsQuery) =>
  useQuery({
    queryKey: ["jobs", query],
    queryFn: () => getJobs(query),
    refetchInterval: (q) => (q.state.data?.pending ? 1_500 : 30_000),
    placeholderData: keepPreviousData,
  });

/** Also asked for by a tab out of sight: the clock calls there too. */
export const useClock = () =>
  useQuery({
    queryKey: ["clock"],
    queryFn: getClock,
    refetchInterval: (q) => (q.state.data?.pending ? 1_500 : 30_000),
    refetchIntervalInBackground: true,
  });

export const useTerms = () =>
  useQuery({ queryKey: ["terms"], queryFn: () => got(api.GET("/api/terms")), staleTime: Infinity });

export const useChoices = () => useQuery({ queryKey: ["choices"], queryFn: () => got(api.GET("/api/choices")) });

export const useRules = () => useQuery({ queryKey: ["rules"], queryFn: () => got(api.GET("/api/rules")) });

export const useRegister = (find: string) =>
  useQuery({
    queryKey: ["register", find],
    queryFn: () => got(api.GET("/api/register", { params: { query: { find } } })),
    placeholderData: keepPreviousData,
  });

export const useLife = (tag: string) =>
  useQuery({
    queryKey: ["life", tag],
    queryFn: () => got(api.GET("/api/batteries/{tag}/life", { params: { path: { tag } } })),
  });

export const useSheet = (id: string) =>
  useQuery({
    queryKey: ["job", id],
    queryFn: () => getSheet(id),
    refetchInterval: 60_000,
  });

/** What the charge of a job's battery will do, by what was read so far; log names that. */
export const useCharge = (id: string, log: string, enabled: boolean) =>
  useQuery({
    queryKey: ["job", id, "charge", log],
    queryFn: () => got(api.GET("/api/jobs/{id}/charge", { params: { path: { id } } })),
    enabled,
    placeholderData: keepPreviousData,
    refetchInterval: 60_000, // what a look is expected to show goes on
    retry: false,
  });

export type PlanQuery = {
  charger?: string;
  kind?: Unit["kind"];
  amps?: number;
  volts?: number;
  rate?: Rate;
  in_vehicle?: boolean;
};

/** What a charge would do that is not begun. */
export const useChargePlan = (id: string, query: PlanQuery | undefined) =>
  useQuery({
    queryKey: ["job", id, "plan", query],
    queryFn: () => got(api.GET("/api/jobs/{id}/charge/plan", { params: { path: { id }, query: query! } })),
    enabled: query !== undefined && id !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });

export const useJumpKit = () =>
  useQuery({ queryKey: ["jump", "kit"], queryFn: () => got(api.GET("/api/jump")), staleTime: 60_000 });

const jumpPlan = (request: object | undefined, job: string | undefined) => ({
  queryKey: ["jump", job, request],
  queryFn: () =>
    got(
      api.POST("/api/jump", {
        params: { query: job ? { job } : {} },
        // The document goes as it is: the server names every fault in it.
        body: request as unknown as string,
      }),
    ),
  staleTime: 30_000,
  retry: false,
});

/**
 * What a jump start would do; of a job's battery its sheet knows the rest. What a press
 * would ask next is asked ahead, so that the picture follows a press at once.
 */
export function useJumpPlan(request: object | undefined, job: string | undefined, next: object[]) {
  const queries = useQueryClient();
  const plan = useQuery({
    ...jumpPlan(request, job),
    enabled: request !== undefined,
    placeholderData: keepPreviousData,
  });
  const here = plan.isPlaceholderData || !plan.data ? undefined : JSON.stringify(next);
  useEffect(() => {
    if (!here) return;
    for (const one of JSON.parse(here) as object[]) void queries.prefetchQuery(jumpPlan(one, job));
  }, [here, job, queries]);
  return plan;
}

const getBank = () => got(api.GET("/api/bank"));

/** The shop's chargers, what hangs on them and what waits for them. */
export const useBank = () =>
  useQuery({
    queryKey: ["bank"],
    queryFn: getBank,
    // Forecasts that were not there yet soon are.
    refetchInterval: (q) => (q.state.data?.pending ? 1_500 : 20_000),
  });

/** What stands, what is nearest to harm first. */
export const useSeason = () =>
  useQuery({ queryKey: ["season"], queryFn: () => got(api.GET("/api/season")), refetchInterval: 60_000 });

/** A battery that stands, with its season. */
export const useStored = (id: string) =>
  useQuery({
    queryKey: ["season", id],
    queryFn: () => got(api.GET("/api/season/{id}", { params: { path: { id } } })),
    enabled: id !== "",
    refetchInterval: 60_000,
  });

/** What a season would do that is not begun; the document goes as it is. */
export const useSeasonPlan = (request: object | undefined) =>
  useQuery({
    queryKey: ["season", "plan", request],
    queryFn: () => got(api.POST("/api/season/plan", { body: request as unknown as string })),
    enabled: request !== undefined,
    placeholderData: keepPreviousData,
    staleTime: 60_000,
    retry: false,
  });

/** This week's round over a lot. */
export const useRound = (lot: string, chargers: number, minutes: number) =>
  useQuery({
    queryKey: ["season", "round", lot, chargers, minutes],
    queryFn: () => got(api.GET("/api/season/round", { params: { query: { lot, chargers, minutes } } })),
    placeholderData: keepPreviousData,
  });

/** Shows a stored battery that a change answered with, and has the lists fetched anew. */
export function showStored(queries: QueryClient, body: StoredBody) {
  const queryKey = ["season", body.line.id];
  void queries.cancelQueries({ queryKey, exact: true });
  queries.setQueryData(queryKey, body);
  void queries.invalidateQueries({ queryKey: ["season"], predicate: (q) => q.queryKey[1] !== body.line.id });
  void queries.invalidateQueries({ queryKey: ["clock"] });
}

export const useColleagues = () =>
  useQuery({ queryKey: ["colleagues"], queryFn: () => got(api.GET("/api/colleagues")), staleTime: 60_000 });

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

/** Shows a sheet that a change answered with, and has the lists fetched anew. */
export function showSheet(queries: QueryClient, sheet: Sheet) {
  const queryKey = ["job", sheet.job.id];
  // A fetch that began before the change must not put the older sheet back.
  void queries.cancelQueries({ queryKey, exact: true });
  queries.setQueryData(queryKey, sheet);
  void queries.invalidateQueries({ queryKey: ["jobs"] });
  void queries.invalidateQueries({ queryKey: ["clock"] });
  void queries.invalidateQueries({ queryKey: ["bank"] });
  void queries.invalidateQueries({ queryKey: [...queryKey, "charge"] });
  void queries.invalidateQueries({ queryKey: [...queryKey, "papers"] });
  void queries.invalidateQueries({ queryKey: ["register"] });
  void queries.invalidateQueries({ queryKey: ["life"] });
}

/** Runs a change of a job and shows the sheet it answers with. */
export function useJobChange<V>(run: (v: V) => Promise<Sheet>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (sheet) => showSheet(queries, sheet),
  });
}

/** Shows a session that a sign-in or a change of preferences answered with. */
export function useShowSession() {
  const queries = useQueryClient();
  return (session: Session) => queries.setQueryData(["session"], session);
}

/** Who is signed in, for everything inside the shell: it stands until the shell itself goes. */
export const PersonHere = createContext<Person | undefined>(undefined);

/** The person signed in; only for screens inside the shell. */
export function usePerson(): Person {
  const person = useContext(PersonHere);
  if (!person) throw new Error("nobody is signed in");
  return person;
}
