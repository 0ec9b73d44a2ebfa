import type { Field, Reading, StationView, Way } from "../../lib/api";
import { fromScale, readNumber, type Scale } from "../../lib/units";

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

/** The reading that the entry comes to; undefined while a needed field is empty or no number. */
export function readingOf(station: StationView, values: Values, scale: Scale): Reading | undefined {
  const out: Record<string, unknown> = { kind: station.kind };
  const way = wayOf(station, values);
  for (const a of way?.fields ?? []) {
    if (a.hidden && a.default !== undefined) out[a.name] = a.default;
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
