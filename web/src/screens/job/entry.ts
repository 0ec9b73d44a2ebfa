import type { Field, Kind, Reading, StationView, Way } from "../../lib/api";
import { fromScale, gravity, readNumber, toScale, type Scale, written } from "../../lib/units";

/** What is typed and picked at a station, by field; figures are text until they are sent. */
export type Values = Record<string, string>;

/** The way of doing it that is picked, or the usual one. */
export function wayOf(station: StationView, values: Values): Way | undefined {
  const open = offered(station);
  return open.find((w) => w.code === values[WAY]) ?? open[0];
}

/** The ways that are for this battery. */
export const offered = (station: StationView): Way[] => (station.advice.ways ?? []).filter((w) => !w.not);

/** Where the way that is picked stands among the values. */
export const WAY = "way";

/** The kind of reading that is being entered. */
export const kindOf = (station: StationView, values: Values): Kind | undefined => {
  const way = wayOf(station, values);
  return station.kinds.find((k) => k.code === way?.kind) ?? station.kinds[0];
};

const adviceOn = (way: Way | undefined, f: Field) => way?.fields?.find((a) => a.name === f.name);

/** A field as the form draws it: what it holds, and what is known of it beforehand. */
export type Drawn = { field: Field; value: string; hint: string; need: boolean; count: number; apart: number };

/** What stands in a field, unless another way of doing it left a word there that this one has not. */
function standing(f: Field, value: string | undefined): string | undefined {
  if (value === undefined || !f.choices) return value;
  const kept = value.split(" ").filter((v) => f.choices!.some((c) => c.code === v));
  return kept.length > 0 || value === "" ? kept.join(" ") : undefined;
}

/** The fields to draw, in order; those the way of doing it fills in are left out. */
export function drawnFields(station: StationView, values: Values): Drawn[] {
  const way = wayOf(station, values);
  return (kindOf(station, values)?.fields ?? [])
    .filter((f) => !adviceOn(way, f)?.hidden && way?.preset?.[f.name] === undefined)
    .map((field) => {
      const advice = adviceOn(way, field);
      const usual = advice?.word ?? advice?.default?.toString() ?? field.default;
      return {
        field,
        value: standing(field, values[field.name]) ?? usual ?? "",
        hint: advice?.hint ?? field.hint ?? "",
        need: field.need || advice?.need === true,
        count: advice?.count ?? 1,
        apart: advice?.apart ?? Infinity,
      };
    });
}

/** A figure that is not one, beyond the first stroke of a sign or a point. */
export const garbled = (text: string) => text !== "" && readNumber(text) === undefined && !/^[-−+.,]$/.test(text);

/** A reading as it would be typed and picked, to begin a correction with. */
export function valuesOf(station: StationView, reading: Reading, scale: Scale): Values {
  const said = reading as Record<string, unknown>;
  const way = offered(station).find(
    (w) => w.kind === reading.kind && Object.entries(w.preset ?? {}).every(([field, word]) => said[field] === word),
  );
  const out: Values = way ? { [WAY]: way.code } : {};
  for (const f of station.kinds.find((k) => k.code === reading.kind)?.fields ?? []) {
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
  return written(
    (f.big ? v.toFixed(Math.max(f.digits, String(v).split(".")[1]?.length ?? 0)) : String(v)).replace("-", "−"),
  );
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
  const kind = kindOf(station, values);
  if (!kind) return undefined;
  const way = wayOf(station, values);
  const shown = kind.fields.map((f) => f.name);
  const out: Record<string, unknown> = { kind: kind.code };
  for (const [field, v] of Object.entries(old)) {
    if (!shown.includes(field) && field !== "kind") out[field] = v;
  }
  const sameWay = old.kind === kind.code && Object.entries(way?.preset ?? {}).every(([f, w]) => old[f] === w);
  for (const a of way?.fields ?? []) {
    const v = (sameWay && old[a.name]) || a.default;
    if (a.hidden && v !== undefined) out[a.name] = v;
  }
  Object.assign(out, way?.preset);
  let any = false;
  for (const { field, value, need } of drawnFields(station, values)) {
    any ||= need || value !== "";
    const sent = valueOf(field, value, scale);
    if (sent !== undefined) out[field.name] = sent;
    else if (need) return undefined;
  }
  return any ? (out as Reading) : undefined; // nothing said is no reading
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
      const all = value.split(" ").map((v) => readNumber(gravity(v)));
      return all.includes(undefined) ? undefined : all;
    }
    case "flag":
      return value === "yes";
    case "text":
      return value.trim() || undefined;
    default:
      return value;
  }
}
