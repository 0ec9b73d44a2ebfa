import type { Choices, ClassDefault, JobDetails } from "../../lib/api";
import { fromScale, readNumber, toScale, type Scale } from "../../lib/units";

/** The form as it is typed: figures are text until they are sent. */
export type Entry = {
  cls: string;
  fuel: string;
  volts: string;
  earth: string;
  arrangement: string;
  chemistry: string;
  caps: string;
  cca: string;
  standard: string;
  ah: string;
  rc: string;
  ca: string;
  /** Amps it may be charged with, where they are printed. */
  charge: string;
  typical: boolean;
  made: string;
  complaint: string[];
  tag: string;
  name: string;
  customer: string;
  note: string;
  ambient: string;
  battery: string;
  /** When it is promised back, as the browser's own field has it. */
  promised: string;
};

/** An entry whose shop temperature nobody has touched yet has none. */
export type Draft = Omit<Entry, "ambient"> & { ambient?: string };

export const emptyEntry: Draft = {
  cls: "", fuel: "", volts: "12", earth: "negative", arrangement: "single", chemistry: "flooded", caps: "removable",
  cca: "", standard: "SAE", ah: "", rc: "", ca: "", charge: "", typical: true, made: "", complaint: [],
  tag: "", name: "", customer: "", note: "", battery: "", promised: "",
}; // prettier-ignore

export const text = (v: number | undefined) => (v === undefined ? "" : String(v));
const temp = (c: number | undefined, scale: Scale) =>
  c === undefined ? "" : String(Math.round(toScale(c, scale) * 10) / 10);

/** A time as the browser's own field takes it. */
export const local = (d: Date) => new Date(d.getTime() - d.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);

/** What is usual for a class, in place of what is not yet known. */
export function fromClass(d: ClassDefault): Partial<Entry> {
  const { vehicle: v, battery: b } = d;
  return {
    cls: d.class, fuel: v.fuel ?? "petrol", volts: text(v.system_volts ?? 12), earth: v.earth ?? "negative", arrangement: v.arrangement ?? "single",
    chemistry: b.chemistry, caps: b.caps ?? "sealed", cca: text(b.rating.cca), standard: b.rating.standard ?? "SAE",
    ah: text(b.rating.ah_20h), rc: text(b.rating.rc_min), ca: "", charge: "", typical: true,
  }; // prettier-ignore
}

export function entryOf(job: JobDetails, scale: Scale): Entry {
  const { vehicle: v, battery: b } = job;
  const r = b.rating;
  return {
    cls: v.class, fuel: v.fuel ?? "petrol", volts: text(v.system_volts ?? 12), earth: v.earth ?? "negative", arrangement: v.arrangement ?? "single",
    chemistry: b.chemistry, caps: b.caps ?? "sealed", cca: text(r.cca), standard: r.standard ?? "SAE", ah: text(r.ah_20h), rc: text(r.rc_min),
    ca: text(r.ca), charge: text(r.charge_amps), promised: job.promised_at ? local(new Date(job.promised_at)) : "", typical: r.typical ?? false, made: b.made ?? "", complaint: job.complaint ?? [], tag: b.tag ?? "", name: v.name ?? "",
    customer: job.customer ?? "", note: job.note ?? "", ambient: temp(job.conditions?.ambient_c, scale), battery: temp(job.conditions?.battery_c, scale),
  }; // prettier-ignore
}

/** A figure to send: left out when empty; what is no number is sent as it is, so that the server names the field. */
function figure(typed: string): number | undefined {
  if (typed.trim() === "") return undefined;
  return readNumber(typed) ?? (typed as unknown as number);
}

const celsius = (typed: string, scale: Scale) => {
  const v = figure(typed);
  return typeof v === "number" ? Math.round(fromScale(v, scale) * 100) / 100 : v;
};

const some = <T extends object>(o: T) =>
  Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined && v !== "")) as T;

/** The details to send. What the form does not show is kept from what was there. */
export function detailsOf(e: Entry, choices: Choices, scale: Scale, old?: JobDetails): JobDetails {
  const cls = choices.classes.find((c) => c.class === e.cls);
  return {
    vehicle: some({
      ...old?.vehicle,
      class: e.cls as JobDetails["vehicle"]["class"],
      name: e.name.trim() || cls?.word,
      fuel: e.fuel as NonNullable<JobDetails["vehicle"]["fuel"]>,
      system_volts: Number(e.volts) as 6 | 8 | 12 | 24,
      earth: e.earth as "negative" | "positive",
      arrangement: e.arrangement as "single" | "parallel" | "series",
      high_voltage: cls?.vehicle.high_voltage,
    }),
    battery: some({
      ...old?.battery,
      chemistry: e.chemistry as JobDetails["battery"]["chemistry"],
      caps: e.caps as "removable" | "sealed",
      terminals: old?.battery.terminals ?? cls?.battery.terminals,
      tag: e.tag.trim(),
      made: e.made,
      rating: some({
        cca: figure(e.cca),
        standard: e.standard as "SAE",
        ah_20h: figure(e.ah),
        rc_min: figure(e.rc),
        ca: figure(e.ca),
        charge_amps: figure(e.charge ?? ""),
        typical: e.typical || undefined,
      }),
    }),
    customer: e.customer.trim(),
    note: e.note.trim(),
    complaint: e.complaint,
    // Drafts from before it was asked for have none.
    ...(e.promised ? { promised_at: new Date(e.promised).toISOString() } : {}),
    conditions: some({ ambient_c: celsius(e.ambient, scale), battery_c: celsius(e.battery, scale) }),
  };
}

/** The label in a few words, to stand beside what opens the job. */
export function labelLine(e: Draft): string {
  const size = e.cca ? `${e.cca} CCA` : e.ah ? `${e.ah} Ah` : e.ca ? `${e.ca} CA` : "no label";
  return e.typical ? `${size}, typical` : size;
}
