import { useSyncExternalStore } from "react";
import type { SignKind } from "../parts/Sign";

/** A short word at the edge of the screen, perhaps with a way back. */
export type Notice = {
  text: string;
  kind?: SignKind;
  /** What a tap does, and what it is called. */
  act?: { word: string; run: () => void };
  /** What else a tap can do. */
  more?: { word: string; run: () => void }[];
  /** The clock calls: it stands longer, beside what else is said. */
  call?: boolean;
};

export type Shown = Notice & { key: number };

/** How long a word stands, ms: long enough to take a glove off; a call, to come to the screen. */
const STANDS = 12_000;
const CALL_STANDS = 60_000;

/** As many calls at once as leave the page to be seen; the rest stand on the clock. */
const CALLS = 2;

let shown: Shown[] = [];
let count = 0;
const watching = new Set<() => void>();

function set(next: Shown[]) {
  shown = next;
  for (const tell of watching) tell();
}

/** Says something; an older word of its kind makes room. */
export function say(notice: Notice): () => void {
  const key = ++count;
  const calls = [...shown, { ...notice, key }].filter((n) => n.call).slice(-CALLS);
  const other = notice.call ? shown.filter((n) => !n.call) : [{ ...notice, key }];
  set([...calls, ...other]);
  setTimeout(() => unsay(key), notice.call ? CALL_STANDS : STANDS);
  return () => unsay(key);
}

export const unsay = (key: number) => set(shown.filter((n) => n.key !== key));

export const useNotices = () =>
  useSyncExternalStore(
    (tell) => {
      watching.add(tell);
      return () => void watching.delete(tell);
    },
    () => shown,
  );
