import { useSyncExternalStore } from "react";
import type { SignKind } from "../parts/Sign";

/** A short word at the edge of the screen, perhaps with a way back. */
export type Notice = {
  text: string;
  kind?: SignKind;
  /** What a tap does, and what it is called. */
  act?: { word: string; run: () => void };
  /** Stays until it is closed. */
  stays?: boolean;
};

type Shown = Notice & { key: number };

let shown: Shown[] = [];
let count = 0;
const watching = new Set<() => void>();

function set(next: Shown[]) {
  shown = next;
  for (const tell of watching) tell();
}

/** Says something; an older word of the passing kind makes room. */
export function say(notice: Notice): () => void {
  const key = ++count;
  set([...shown.filter((n) => n.stays), { ...notice, key }]);
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
