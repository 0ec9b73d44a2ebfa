import type { Field, Reading, StationView, Way } from "../../lib/api";
import { fromScale, readNumber, toScale, type Scale } from "../../lib/units";

/** What is typed and picked at a station, by field; figures are text until they are sent. */
export type Values = Record<string, string>;

/** The way of doing it that is picked, or the usual one. */
export function wayOf(station: StationView, values: Values): Way | undefined {
  const { by, ways } = station.advice;
  const code = by ? values[by] : undefined;
  return ways?.find((w) => w.code === code) ?? ways?.[0];
}

const adviceOn = (way: Way | undefined, f: Field) => way?.fields?.find((a) => a.name === f.name);

/** A field as the form draws it: what it holds, and what is known of it beforehand. */
export type Drawn = { field: Field; value: string; hint: string };

/** The fields to draw, in order; those the way of doing it fills in are left out. */
export function drawnFields(station: StationView, values: Values): Drawn[] {
  const way = wayOf(station, values);
  return station.fields
    .filter((f) => !adviceOn(way, f)?.hidden)
    .map((field) => {
      const advice = adviceOn(way, field);
      const usual = field.name === station.advice.by ? way?.code : (advice?.default?.toString() ?? field.default);
      return { field, value: values[field.name] ?? usual ?? "", hint: advice?.hint ?? field.hint ?? "" };
    });
}

/** A figure that is not one, beyond the first stroke of a sign or a point. */
export const garbled = (text: string) => text !== "" && readNumber(text) === undefined && !/^[-−+.,]$/.test(text);

/** A reading as it would be typed and picked, to begin a correction with. */
export function valuesOf(fields: Field[], reading: Reading, scale: Scale): Values {
  const out: Values = {};
  for (const f of fields) {
    const v = (reading as Record<string, unknown>)[f.name];
    if (v === undefined) continue;
    if (Array.isArray(v)) out[f.name] = v.join(" ");
    else if (typeof v === "boolean") out[f.name] = v ? "yes" : "no";
    else if (typeof v === "number") out[f.name] = figureText(f, v, scale);
    else out[f.name] = String(v);
  }
  return out;
}

function figureText(f: Field, v: number, scale: Scale): string {
  if (f.unit === "°C") return String(Math.round(toScale(v, scale) * 10) / 10).replace("-", "−");
  return (f.big ? v.toFixed(Math.max(f.digits, String(v).split(".")[1]?.length ?? 0)) : String(v)).replace("-", "−");
}

/**
 * The reading that the entry comes to; undefined while a needed field is empty or
 * no number. What the form does not show of a reading that is corrected is kept.
 */
export function readingOf(
  station: StationView,
  values: Values,
  scale: Scale,
  corrected?: Reading,
): Reading | undefined {
  const old = { ...(corrected as Record<string, unknown> | undefined) };
  const shown = station.fields.map((f) => f.name);
  const out: Record<string, unknown> = { kind: station.kind };
  for (const [field, v] of Object.entries(old)) {
    if (!shown.includes(field) && field !== "kind") out[field] = v;
  }
  const way = wayOf(station, values);
  const by = station.advice.by;
  const sameWay = by !== undefined && old[by] === way?.code;
  for (const a of way?.fields ?? []) {
    const v = (sameWay && old[a.name]) || a.default;
    if (a.hidden && v !== undefined) out[a.name] = v;
  }
  for (const { field, value } of drawnFields(station, values)) {
    const sent = valueOf(field, value, scale);
    if (sent !== undefined) out[field.name] = sent;
    else if (field.need) return undefined;
  }
  return out as Reading;
}

function valueOf(field: Field, value: string, scale: Scale): unknown {
  if (value === "") return undefined;
  switch (field.kind) {
    case "figure": {
      const v = readNumber(value);
      return v !== undefined && field.unit === "°C" ? fromScale(v, scale) : v;
    }
    case "choices":
      return value.split(" ");
    case "figures": {
      const all = value.split(/[\s;]+/).map(readNumber);
      return all.includes(undefined) ? undefined : all;
    }
    case "flag":
      return value === "yes";
    default:
      return value;
  }
}
