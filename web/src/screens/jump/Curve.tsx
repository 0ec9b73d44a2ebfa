import { useId } from "react";
import type { JumpPlan } from "../../lib/api";
import { showNumber } from "../../lib/units";

/** What a try reaches over minutes of charging through the leads, with what is not known. */
export function Curve({ plan }: { plan: JumpPlan }) {
  const id = useId();
  const r = plan.reached!;
  const all = plan.curve;
  const digits = r.unit === "V" ? 1 : 0;
  const low = Math.min(...all.map((c) => c.low), r.needs) * 0.97;
  const high = Math.max(...all.map((c) => c.high), r.needs) * 1.04;
  const end = all.at(-1)?.minute ?? 20;
  const x0 = 44;
  const x1 = 300;
  const y0 = 24;
  const y1 = 140;
  const X = (m: number) => x0 + (m / end) * (x1 - x0);
  const Y = (v: number) => y1 - ((v - low) / (high - low)) * (y1 - y0);
  const path = (pick: (c: (typeof all)[number]) => number, back = false) =>
    (back ? [...all].reverse() : all).map((c) => `${X(c.minute).toFixed(1)} ${Y(pick(c)).toFixed(1)}`).join("L");
  const first = plan.minutes_first;
  const then = plan.later?.reached;
  const spoken = `Over ${end} minutes on the leads a try goes from ${showNumber(r.best, digits)} to ${showNumber(all.at(-1)?.best ?? 0, digits)} ${r.unit}; it needs ${showNumber(r.needs, digits)}.`;
  const fails = all[0]!.best < r.needs;
  return (
    <section aria-label="Will it turn, over the minutes">
      <p className="cap text-ink!">{r.unit === "V" ? "Will it wake?" : "Will it turn?"}</p>
      <svg viewBox="0 0 316 166" className="block w-full max-w-[420px]" role="img" aria-label={spoken}>
        <defs>
          <pattern id={id} width="5.500" height="5.500" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
            <rect width="1.600" height="5.500" fill="var(--wet)" />
          </pattern>
        </defs>
        <path d={`M${x0} ${Y(r.needs)}H${x1}V${y0 - 10}H${x0}Z`} fill="var(--verdigris)" opacity=".13" />
        <path d={`M${path((c) => c.low)}L${path((c) => c.high, true)}Z`} fill={`url(#${id})`} opacity=".8" />
        <path
          d={`M${path((c) => c.best)}`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="2.800"
          strokeLinejoin="round"
        />
        <path d={`M${x0} ${y1}H${x1}`} stroke="var(--ink)" strokeWidth="1.400" />
        <path d={`M${x0} ${Y(r.needs)}H${x1}`} stroke="var(--verdigris)" strokeWidth="2" />
        {[0, 5, 10, 15, 20]
          .filter((m) => m <= end)
          .map((m) => (
            <g key={m}>
              <path d={`M${X(m)} ${y1}v6`} stroke="var(--ink)" />
              <text
                x={m === 20 ? 314 : X(m)}
                y={y1 + 20}
                fontSize="13"
                fill="var(--soft)"
                textAnchor={m === 20 ? "end" : "middle"}
              >
                {m === 20 ? "20 min" : m}
              </text>
            </g>
          ))}
        <text x={x0 - 6} y={Y(r.needs) + 5} fontSize="14" fontWeight="700" fill="var(--verdigris)" textAnchor="end">
          {showNumber(r.needs, digits)}
        </text>
        <text x={x0 + 6} y={y0 + 5} fontSize="14" fontWeight="680" fill="var(--ink)">
          {r.unit === "V" ? "it wakes" : "it turns"}
        </text>
        {fails && (
          <g transform={`translate(${X(0) - 9} ${Y(all[0]!.best) - 9})`} className="text-copper">
            <path d="M9 0 18 9 9 18 0 9Z" fill="var(--paper)" stroke="currentColor" strokeWidth="2.600" />
          </g>
        )}
        {first !== undefined && first > 0 && then !== undefined && (
          <>
            <path d={`M${X(first)} ${Y(then)}V${y1}`} stroke="var(--ink)" strokeWidth="1.600" strokeDasharray="2 3" />
            <circle cx={X(first)} cy={Y(then)} r="7.500" fill="var(--verdigris)" />
          </>
        )}
        {!fails && <circle cx={X(0)} cy={Y(all[0]!.best)} r="7" fill="var(--verdigris)" />}
      </svg>
      {plan.why && <p className="text-[14px] leading-snug text-soft">{plan.why}</p>}
      {fails && !plan.why && (
        <p className="flex flex-wrap gap-x-4 text-[14px] font-[600]">
          <span className="text-copper">a try now fails</span>
          {first !== undefined && first > 0 && <span className="text-verdigris">after {first} min it works</span>}
        </p>
      )}
    </section>
  );
}
