import { useId } from "react";
import { useWidth } from "../../lib/width";

type Band = { low: number; best: number; high: number };

/** Strength in percent of the label as a stick, what is uncertain hatched. */
export function PartStick({ now, tested }: { now: Band; tested: boolean }) {
  const [ref, width] = useWidth<HTMLDivElement>(300);
  const id = useId();
  const end = width - 66;
  const x = (pct: number) => 2 + ((end - 14) * Math.min(110, Math.max(0, pct))) / 110;
  const best = Math.round(now.best);
  return (
    <div ref={ref} className="w-full [contain:inline-size]">
      <svg
        width={width}
        height="30"
        className="block"
        role="img"
        aria-label={`${best} % of its label, ${Math.round(now.low)} to ${Math.round(now.high)}${tested ? "" : ", by its age alone"}`}
      >
        <defs>
          <pattern id={`${id}h`} width="6" height="6" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
            <rect width="6" height="6" fill="var(--card)" />
            <rect width="2.4" height="6" fill="var(--wet)" />
          </pattern>
        </defs>
        <path d={`M2 9H${end - 10}L${end} 22H2Z`} fill="var(--card)" />
        {tested && <rect x="2" y="9" width={Math.max(0, x(now.low) - 2)} height="13" fill="var(--wet)" />}
        <rect
          x={tested ? x(now.low) : 2}
          y="9"
          width={Math.max(2, x(now.high) - (tested ? x(now.low) : 2))}
          height="13"
          fill={`url(#${id}h)`}
        />
        <path d={`M2 9H${end - 10}L${end} 22H2Z`} fill="none" stroke="var(--ink)" strokeWidth="1.6" />
        <path d={`M${x(now.best)} 4V26`} stroke="var(--ink)" strokeWidth="2.4" />
        <text x={width} y="22" textAnchor="end" fontSize="20" fontWeight="740" fill="var(--ink)">
          {best}
          <tspan fontSize="13" fontWeight="500" fill="var(--soft)" dx="2">
            %
          </tspan>
        </text>
      </svg>
    </div>
  );
}
