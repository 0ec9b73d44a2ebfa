/** The colours of every picture of a guide: the live side is copper, the earthed side iron. */
export const INK = "var(--ink)";
export const SOFT = "var(--soft)";
export const CARD = "var(--card)";
export const HUSH = "var(--hush)";
export const LINE = "var(--line)";
export const LIVE = "var(--copper)";
export const IRON = "var(--slate)";
export const ASIDE = "var(--verdigris)";
export const STOP = "var(--oxide)";

/** Words in a picture are this high at least, in its own units: 400 are as wide as a phone. */
export const word = { fontSize: 16, fontWeight: 640 } as const;

/** The edge of what is drawn. */
export const edge = { stroke: INK, strokeWidth: 2.3, strokeLinejoin: "round", strokeLinecap: "round" } as const;
