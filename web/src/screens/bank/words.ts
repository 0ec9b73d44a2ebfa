import type { Unit } from "../../lib/api";

/** Kinds of charger, short enough for their plates. */
export const kindWord: Record<Unit["kind"], string> = {
  smart: "smart",
  taper: "taper",
  manual: "manual",
  maintainer: "keeper",
  trickle: "trickle",
};
