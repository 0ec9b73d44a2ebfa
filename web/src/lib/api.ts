import createClient from "openapi-fetch";
import type { components, paths } from "./api.gen";
import { heard, missed } from "./line";

type Schemas = components["schemas"];
export type Sheet = Schemas["JobSheet"];
export type JobLine = Schemas["JobLine"];
export type Tally = Schemas["Tally"];
export type PersonLine = Schemas["PersonLine"];
export type ChangeView = Schemas["ChangeView"];
export type Judgement = Schemas["Judgement"];
export type Finding = Schemas["FindingView"];
export type Step = Schemas["Step"];
export type StationView = Schemas["StationView"];
export type Field = Schemas["FieldView"];
export type Kind = Schemas["KindView"];
export type Advice = Schemas["Advice"];
export type Way = Schemas["Way"];
export type RegisterBody = Schemas["RegisterBody"];
export type BatteryLine = Schemas["BatteryLine"];
export type LifeBody = Schemas["LifeBody"];
export type Flow = Schemas["Flow"];
export type Charging = Schemas["Charging"];
export type ChargePlan = Schemas["PlannedCharge"];
export type Bank = Schemas["BankBody"];
export type ChargerView = Schemas["ChargerView"];
export type HungView = Schemas["HungView"];
export type WaitingView = Schemas["WaitingView"];
export type Unit = Schemas["Unit"];
export type JumpPlan = Schemas["Plan"];
export type JumpKit = Schemas["JumpKit"];
export type Stream = Schemas["Stream"];
export type Act = Schemas["Act"];
export type Rate = "label" | "tenth" | "fast";
export type Moment = Schemas["ClockMoment"];
export type MomentKind = Moment["kind"];
export type Gauge = Schemas["Gauge"];
export type Level = Schemas["Level"];
export type Reading = Schemas["Reading"];
export type ReadingView = Schemas["ReadingView"];
export type Choices = Schemas["Choices"];
export type ClassDefault = Schemas["ClassDefault"];
export type JobDetails = Omit<Schemas["NewJob"], "id">;
export type Session = Schemas["Session"];
export type Person = Schemas["PersonView"];
export type Rules = Schemas["Rules"];
export type Rule = Schemas["Rule"];
export type RuleChange = Schemas["RuleChange"];
export type HouseRulesBody = Schemas["RulesBody"];
export type Term = Schemas["Term"];
export type Caution = Schemas["Caution"];
export type Clock = Schemas["Clock"];
export type Meaning = Schemas["Meaning"];
export type Timer = Schemas["Timer"];
export type Side = Schemas["Side"];
export type Guide = Schemas["GuideBody"];
export type GuideStep = Schemas["Task"];
export type GuideAsk = Schemas["Ask"];
export type Part = Schemas["Part"];
export type Site = Schemas["Site"];
export type Stock = Schemas["StockBody"];
export type StockLine = Schemas["StockView"];
export type StockItem = Schemas["Item"];
export type Fit = Schemas["FitBody"];
export type Ranked = Schemas["Ranked"];
export type Needs = Schemas["Needs"];
export type SeasonBody = Schemas["SeasonBody"];
export type StoredLine = Schemas["StoredLine"];
export type StoredBody = Schemas["StoredBody"];
export type Stored = Schemas["Stored"];
export type SeasonPlan = Schemas["Season"];
export type SeasonWay = Schemas["WayOfKeeping"];
export type SeasonDay = Schemas["Day"];
export type SeasonNeed = Schemas["Need"];
export type Followed = Schemas["Followed"];
export type Round = Schemas["RoundBody"];
export type RoundStop = Schemas["Stop"];
export type Papers = Schemas["PapersBody"];
export type Estimate = Schemas["Estimate"];
export type Prices = Schemas["Prices"];
export type Problem = Partial<Schemas["ErrorModel"]>;

/** The longest an answer is waited for, ms: a dead network often says nothing at all. */
const PATIENCE = 12_000;

/** Fetches, and notes whether the server was there. */
export async function reach(...[what, how]: Parameters<typeof fetch>): Promise<Response> {
  try {
    const answer = await fetch(what, { ...how, signal: AbortSignal.timeout(PATIENCE) });
    heard(answer);
    return answer;
  } catch (error) {
    missed();
    throw error;
  }
}

export const api = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (request) => reach(request),
});

/** An answer that says what went wrong, field by field where it can. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.detail ?? problem.title ?? "Something went wrong. Try again.");
  }

  /** Whether no answer came at all. */
  get lost(): boolean {
    return this.status === 0;
  }

  /** Whether the id was used before, with other content: that content is kept. */
  get taken(): boolean {
    return this.problem.type === "urn:grapnel:taken";
  }

  /** Whether it has to be said whose a tag is that is known here. */
  get knownTag(): boolean {
    return this.problem.type === "urn:grapnel:known-tag";
  }

  /** What is wrong with one field, by the end of its place ("reading.volts"). */
  at(field: string): string | undefined {
    return this.problem.errors?.find((e) => e.location?.endsWith("." + field))?.message;
  }

  /** The first thing wrong, in words fit to stand beside the field. */
  get first(): string {
    return this.problem.errors?.[0]?.message ?? this.message;
  }
}

/** Gives the data of an answer, or throws Refused. */
export async function got<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch {
    throw new Refused(0, { detail: "The server cannot be reached. What you entered is kept on this device." });
  }
  if (answer.error !== undefined || !answer.response.ok) {
    throw new Refused(answer.response.status, (answer.error ?? {}) as Problem);
  }
  return answer.data as T;
}

/** A table as a request sends it: the text of the file, as it is. */
export async function table(file: File) {
  return {
    body: await file.text(),
    bodySerializer: (text: string) => text,
    headers: { "Content-Type": "text/csv" },
  };
}
