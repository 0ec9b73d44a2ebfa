import type { Followed, SeasonWay } from "../../lib/api";
import { colourOf, line } from "./scale";

type Props = {
  freezes: number[];
  low: number[];
  /** The part of the season after which it freezes; 1 where it does not. */
  ends: number;
  sign: keyof typeof colourOf;
  width: number;
  height: number;
  today?: number;
};

/** A season at a glance: the nights as hills, the battery's own freeze line as a roof over them. */
export function Mini({ freezes, low, ends, sign, width, height, today }: Props) {
  const n = Math.max(1, low.length - 1);
  const cold = Math.min(-34, ...freezes) - 4;
  const warm = Math.max(6, ...low) + 7;
  const x = (i: number) => (i / n) * width;
  const y = (c: number) => 3 + ((c - cold) / (warm - cold)) * (height - 3);
  const last = Math.round(ends * n);
  const roof = freezes.slice(0, last + 1).map((c, i): [number, number] => [x(i), y(c)]);
  const hills = low.map((c, i): [number, number] => [x(i), y(c)]);
  const under = roof.map(([px, py], i): [number, number] => [px, Math.max(py, y(low[i]!))]).reverse();
  const colour = colourOf[sign];
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} aria-hidden className="block">
      <path d={`${line([...roof, ...under])}Z`} fill={colour} opacity="0.2" />
      <path d={`${line([[0, height], ...hills, [width, height]])}Z`} fill="var(--wet)" />
      <path d={line(roof)} fill="none" stroke={colour} strokeWidth="2.4" strokeLinejoin="round" />
      {today !== undefined && today > 0 && today < 1 && (
        <path d={`M${today * width} 0V${height}`} stroke="var(--ink)" strokeWidth="1" strokeDasharray="2 3" />
      )}
      {ends < 1 && (
        <rect
          x={Math.min(width - 16, Math.max(0, x(last) - 8))}
          y={y(freezes[last] ?? 0) - 4}
          width="16"
          height="8"
          fill="var(--oxide)"
          stroke="var(--card)"
          strokeWidth="1.2"
        />
      )}
    </svg>
  );
}

/** How one stands, small. */
export const ofLine = (f: Followed) => ({
  freezes: f.shape.freezes_c,
  low: f.shape.low_c,
  ends: f.shape.ends,
  sign: f.sign,
  today: f.shape.today,
});

/** A way of keeping it, small. */
export function ofWay(way: SeasonWay) {
  const every = Math.max(1, Math.round(way.days.length / 48));
  const some = way.days.filter((_, i) => i % every === 0);
  const stop = way.freezes_from ? way.days.findIndex((d) => d.date === way.freezes_from) : -1;
  return {
    freezes: some.map((d) => d.freezes_low_c),
    low: some.map((d) => d.low_c),
    ends: stop < 0 ? 1 : stop / Math.max(1, way.days.length - 1),
    sign: way.sign,
  };
}
