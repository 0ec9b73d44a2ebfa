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

/** An arrow straight up or down between two heights. */
export const Upright = ({
  x,
  low,
  high,
  up,
  colour,
}: {
  x: number;
  low: number;
  high: number;
  up: boolean;
  colour?: string;
}) => (
  <Arrow
    d={up ? `M${x} ${low}V${high}` : `M${x} ${high}V${low}`}
    at={[x, up ? high : low]}
    turn={up ? -90 : 90}
    {...(colour ? { colour } : {})}
  />
);
