import { useSyncExternalStore } from "react";

const media = (query: string) => {
  const list = window.matchMedia(query);
  return {
    subscribe: (changed: () => void) => {
      list.addEventListener("change", changed);
      return () => list.removeEventListener("change", changed);
    },
    now: () => list.matches,
  };
};

const coarse = media("(pointer: coarse)");
const narrow = media("(max-width: 767px)");

/** Whether fingers, or gloves, do the pointing. */
export const useCoarse = () => useSyncExternalStore(coarse.subscribe, coarse.now);

/** Whether the screen is as narrow as a phone. */
export const useNarrow = () => useSyncExternalStore(narrow.subscribe, narrow.now);
