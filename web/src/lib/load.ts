import { useEffect, useState, useSyncExternalStore } from "react";
import type { Timer } from "./api";
import { drop, keep, kept } from "./shelf";
import { countIn, unlock } from "./sound";

/** A load that is on a battery, or was on it last: it goes on through a refresh and a switch of stations. */
export type Load = {
  job: string;
  tag: string;
  station: string;
  timer: Timer;
  /** By this device's clock, ms. */
  ends: number;
  /** The volts of it have been entered: only the wait for the next load is left. */
  entered?: boolean;
};

const PLACE = "load";
let current = kept<Load>(PLACE);
let silence: (() => void) | undefined;
const watching = new Set<() => void>();

function set(next: Load | undefined) {
  current = next;
  if (next) keep(PLACE, next);
  else drop(PLACE);
  for (const tell of watching) tell();
}

/** Puts the load on; called from the tap, so that its tones may sound. */
export function putOn(load: Omit<Load, "ends">) {
  unlock();
  silence?.();
  silence = countIn(load.timer.seconds);
  set({ ...load, ends: Date.now() + load.timer.seconds * 1000 });
}

/** Takes it off before its time, or forgets it. */
export function takeOff() {
  silence?.();
  set(undefined);
}

/** The volts at its end are saved. */
export function entered() {
  if (!current || Date.now() < current.ends) return takeOff();
  set({ ...current, entered: true });
}

const useCurrent = () =>
  useSyncExternalStore(
    (tell) => {
      watching.add(tell);
      return () => void watching.delete(tell);
    },
    () => current,
  );

/** The load with what is left of it and of the wait after it, seconds; undefined when neither runs. */
export function useLoad(): (Load & { left: number; wait: number }) | undefined {
  const load = useCurrent();
  const [now, setNow] = useState(() => Date.now());
  const over = load && now > load.ends + load.timer.wait * 1000;
  useEffect(() => {
    if (!load || over) return;
    const tick = setInterval(() => setNow(Date.now()), 100);
    return () => clearInterval(tick);
  }, [load, over]);
  if (!load || over) return undefined;
  // What was shown last may be older than the tap that put it on.
  const at = Math.max(now, load.ends - load.timer.seconds * 1000);
  const left = Math.max(0, (load.ends - at) / 1000);
  return { ...load, left, wait: Math.max(0, (load.ends - at) / 1000 + load.timer.wait) };
}

/** Keeps the screen from going dark. */
export function useAwake(on: boolean) {
  useEffect(() => {
    if (!on || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | undefined;
    let gone = false;
    navigator.wakeLock.request("screen").then(
      (got) => {
        if (gone) void got.release();
        else lock = got;
      },
      () => undefined, // A low battery may refuse it.
    );
    return () => {
      gone = true;
      void lock?.release();
    };
  }, [on]);
}
