import type { ReactNode } from "react";
import { INK, word } from "./ink";

/** A word in a picture. */
export const Word = (p: { x: number; y: number; children: ReactNode; end?: "middle" | "end"; colour?: string }) => (
  <text x={p.x} y={p.y} textAnchor={p.end ?? "start"} {...word} fill={p.colour ?? INK} stroke="none">
    {p.children}
  </text>
);
