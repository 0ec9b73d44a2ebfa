import { useEffect, useState } from "react";
import { serverNow } from "./line";

/** The server's clock as it is now, ms. */
export function useNow(everyMs = 1000): number {
  const [now, setNow] = useState(serverNow);
  useEffect(() => {
    const timer = setInterval(() => setNow(serverNow()), everyMs);
    return () => clearInterval(timer);
  }, [everyMs]);
  return now;
}

/** A format made when it is first needed: making one takes long on a slow device. */
function format(options: Intl.DateTimeFormatOptions) {
  let made: Intl.DateTimeFormat | undefined;
  return (at: string | number) => (made ??= new Intl.DateTimeFormat(undefined, options)).format(new Date(at));
}

export const atTime = format({ hour: "2-digit", minute: "2-digit", hourCycle: "h23" });
export const weekday = format({ weekday: "short" });
export const onDay = format({ day: "numeric", month: "short", year: "numeric" });

/** A time today as a clock reading, any other day with its date. */
export function when(iso: string): string {
  const sameDay = new Date(iso).toDateString() === new Date(serverNow()).toDateString();
  return sameDay ? atTime(iso) : `${onDay(iso)}, ${atTime(iso)}`;
}

/** The day of a time that is not today's, to stand before it. */
export const otherDay = (ms: number) =>
  new Date(ms).toDateString() === new Date(serverNow()).toDateString() ? "" : `${weekday(ms)}, `;

/** A span as people say it: 8 min, 1 h 20. */
export function span(ms: number): string {
  const minutes = Math.max(0, Math.ceil(ms / 60000));
  if (minutes < 100) return `${minutes} min`;
  const rest = minutes % 60;
  return rest === 0 ? `${minutes / 60} h` : `${Math.floor(minutes / 60)} h ${String(rest).padStart(2, "0")}`;
}

/** How long something has waited: just now, waits 12 min, 3 h 05, 4 days. */
export function waited(ms: number): string {
  if (ms < 60_000) return "just now";
  return `waits ${ms < 48 * 3_600_000 ? span(ms) : `${Math.floor(ms / 86_400_000)} days`}`;
}

/** A time with its date, whatever the day. */
export const dayAndTime = (iso: string) => `${onDay(iso)}, ${atTime(iso)}`;

/** A span of work or waiting; long ones only to the half hour, since nobody knows better. */
export function workTime(minutes: number): string {
  if (minutes < 100) return `${minutes} min`;
  const halves = Math.round(minutes / 30);
  return `about ${Math.floor(halves / 2)}${halves % 2 ? "½" : ""} h`;
}

/** A span the house rules set, in minutes. */
export const restTime = (minutes: number) => (minutes < 100 ? `${minutes} min` : `${Math.round(minutes / 60)} h`);
