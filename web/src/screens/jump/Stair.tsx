import type { JumpPlan } from "../../lib/api";
import { showNumber } from "../../lib/units";
import { colourOf, lossOf } from "./Circuit";

const INK = "var(--ink)";
const SOFT = "var(--soft)";

/** The circuit on a phone: the volts as a stair from the source down to the starter, as wide as the amps. */
export function Stair({ plan, kind }: { plan: JumpPlan; kind: string }) {
  const now = plan.now!;
  const r = plan.reached!;
  const later = plan.later;
  const wake = plan.wake !== undefined;
  const end = wake ? now.flat_volts : now.starter_volts;
  const top = Math.max(now.source_rest_volts, later?.source_volts ?? 0);
  const low = Math.min(end, r.needs_volts);
  const per = 96 / Math.max(0.8, top - low);
  const y = (v: number) => 34 + (top - v) * per;
  const most = Math.max(now.lead_amps, now.starter_amps, 60);
  const wide = (amps: number) => Math.max(2, Math.min(0.06, 15 / most) * Math.abs(amps));
  const live = colourOf(plan.connect.find((a) => a.side === "live")?.lead);
  const clamps = lossOf(plan, "clamps");
  const parts = [
    {
      x: 26,
      n: lossOf(plan, "source"),
      word: kind === "vehicle" ? "donor sags" : kind === "pack" ? "pack sags" : "boost sags",
    },
    { x: 116, n: lossOf(plan, "live_lead", "earthed_lead"), word: "leads" },
    { x: 196, n: clamps, word: "clamps" },
    ...(wake ? [] : [{ x: 262, n: lossOf(plan, "live_cable", "earthed_cable"), word: "cables" }]),
  ];
  const short = end < r.needs_volts - 0.05;
  const bite = now.flat_volts + clamps;
  const spoken = `${showNumber(now.source_rest_volts, 1)} volts at rest; lost: ${parts.map((p) => `${p.word} ${showNumber(p.n, 1)}`).join(", ")}; ${showNumber(end, 1)} are left, ${showNumber(r.needs_volts, 1)} are needed.`;
  return (
    <svg viewBox="0 0 358 206" className="block w-full" role="img" aria-label={spoken} data-testid="circuit">
      <path
        d={`M20 ${y(now.source_rest_volts)}H60V${y(now.source_volts)}H104`}
        fill="none"
        stroke={live}
        strokeWidth={wide(now.source_battery_amps || now.lead_amps)}
        strokeLinejoin="round"
      />
      <path
        d={`M104 ${y(now.source_volts)}L204 ${y(bite)}V${y(now.flat_volts)}H236`}
        fill="none"
        stroke={live}
        strokeWidth={wide(now.lead_amps)}
        strokeLinejoin="round"
      />
      <path
        d={`M236 ${y(now.flat_volts)}H252L300 ${y(end)}H340`}
        fill="none"
        stroke={live}
        strokeWidth={wide(wake ? now.lead_amps : now.starter_amps)}
        strokeLinejoin="round"
      />
      {later && (
        <path
          d={`M60 ${y(later.source_volts)}H104L204 ${y(later.flat_volts)}H252L300 ${y(wake ? later.flat_volts : later.starter_volts)}H340`}
          fill="none"
          stroke={INK}
          strokeWidth="1.800"
          strokeDasharray="5 4"
        />
      )}
      <path d={`M236 ${y(r.needs_volts)}H346`} stroke={INK} strokeWidth="1.600" />
      <path
        d={`M344 ${y(r.needs_volts)}l9-6v12Z`}
        fill="var(--paper)"
        stroke={INK}
        strokeWidth="1.500"
        strokeLinejoin="round"
      />
      <text x="18" y={y(now.source_rest_volts) - 12} fontSize="17" fontWeight="740" fill={INK}>
        {showNumber(now.source_rest_volts, 1)} V
      </text>
      <text
        x="352"
        y="18"
        fontSize="24"
        fontWeight="770"
        textAnchor="end"
        fill={short ? "var(--copper)" : "var(--verdigris)"}
      >
        {showNumber(end, 1)} V
      </text>
      <text x="268" y="18" fontSize="14" fontWeight="640" textAnchor="end" fill={INK}>
        {wake ? "reach it" : "reach the starter"}
      </text>
      <text x="352" y="36" fontSize="13.500" fontWeight="640" textAnchor="end" fill={INK}>
        needs {showNumber(r.needs_volts, 1)} V
      </text>
      {now.lead_amps > 20 && (
        <text x="150" y={(y(now.source_volts) + y(bite)) / 2 - 14} fontSize="13.500" fontWeight="700" fill={INK}>
          {showNumber(now.lead_amps, 0)} A
        </text>
      )}
      {parts.map((p) => (
        <g key={p.word}>
          <text x={p.x} y="174" fontSize="22" fontWeight="760" fill={INK}>
            {showNumber(p.n, 1)}
            <tspan fontSize="13" fontWeight="540" fill={SOFT} dx="2">
              V
            </tspan>
          </text>
          <text x={p.x} y="192" fontSize="13.500" fill={SOFT}>
            {p.word}
          </text>
        </g>
      ))}
    </svg>
  );
}
