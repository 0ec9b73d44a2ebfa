import { INK } from "./ink";

/** A path with a head at its end, in the direction it comes in by. */
export function Arrow({
  d,
  at,
  turn,
  colour = INK,
}: {
  d: string;
  at: [number, number];
  turn: number;
  colour?: string;
}) {
  return (
    <g fill="none" stroke={colour} strokeWidth="3.4" strokeLinecap="round" strokeLinejoin="round">
      <path d={d} />
      <path d="M-11-8L0 0-11 8" transform={`translate(${at[0]} ${at[1]}) rotate(${turn})`} />
    </g>
  );
}
