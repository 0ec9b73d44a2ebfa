import { useEffect, type RefObject } from "react";

/**
 * Puts the focus where the hands go first whenever what is shown changes: on what
 * is marked data-first, else on the heading. Nothing scrolls for it.
 */
export function useFirst(place: RefObject<HTMLElement | null>, shown: string) {
  useEffect(() => {
    const first = place.current?.querySelector<HTMLElement>("[data-first]");
    (first ?? place.current?.querySelector<HTMLElement>("h2, h1"))?.focus({ preventScroll: true });
  }, [place, shown]);
}

/** Brings what has come up to where it is seen: a question that is asked below the fold is not answered. */
export const comeToSee = (e: HTMLElement | null) => e?.scrollIntoView({ block: "center" });
