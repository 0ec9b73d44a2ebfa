import type { SeasonDay, SeasonWay } from "../../lib/api";

/** How a season is laid out: days to the right, colder upward. */
export type Scale = { x: (i: number) => number; y: (celsius: number) => number };

/** The coldest and the warmest that a picture of some seasons has to show, °C. */
export function reach(days: SeasonDay[], others: SeasonDay[][] = []) {
  let cold = -34;
  let warm = 6;
  for (const all of [days, ...others])
    for (const d of all) {
      cold = Math.min(cold, d.freezes_high_c);
      warm = Math.max(warm, d.low_c);
    }
  return { cold: cold - 9, warm: warm + 7 };
}

export const line = (points: [number, number][]) =>
  points.map(([x, y], i) => `${i ? "L" : "M"}${x.toFixed(1)} ${y.toFixed(1)}`).join("");

/** The days until it freezes, or all of them. */
export function standing(way: SeasonWay): SeasonDay[] {
  const end = way.freezes_from ? way.days.findIndex((d) => d.date === way.freezes_from) : -1;
  return end < 0 ? way.days : way.days.slice(0, end + 1);
}

export const indexOf = (days: SeasonDay[], date: string | undefined) =>
  date === undefined ? -1 : days.findIndex((d) => d.date === date);

const month = new Intl.DateTimeFormat("en", { month: "long", timeZone: "UTC" });
const dayMonth = new Intl.DateTimeFormat("en", { day: "numeric", month: "short", timeZone: "UTC" });

export const monthOf = (date: string) => month.format(new Date(date));

/** A date as people write it: 4 Jan. */
export function onDate(date: string) {
  const parts = dayMonth.formatToParts(new Date(date));
  const part = (type: string) => parts.find((p) => p.type === type)?.value ?? "";
  return `${part("day")} ${part("month")}`;
}

export const toneOf = { holds: "ok", act: "act", stop: "stop" } as const;
export const colourOf = { holds: "var(--verdigris)", act: "var(--copper)", stop: "var(--oxide)" } as const;
export const inkOf = { holds: "text-verdigris", act: "text-copper", stop: "text-oxide" } as const;
