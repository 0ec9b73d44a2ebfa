import { useId, useState } from "react";
import type { Side } from "../../lib/api";
import { useCoarse } from "../../lib/pointer";
import { Keypad, stroke } from "../../parts/NumberEntry";
import type { Drawn } from "./entry";

/** Where each figure stands on the drawing, in its own units: left, top, width. */
const PLACES: Record<string, { x: number; y: number; w: number }> = {
  volts_min: { x: 24, y: 0, w: 206 },
  amps: { x: 262, y: 0, w: 184 },
  drop_live_volts: { x: 488, y: 0, w: 190 },
  drop_earth_volts: { x: 42, y: 300, w: 222 },
};

const WIDE = 696;
const HIGH = 370;

type Props = {
  fields: Drawn[];
  plus: Side;
  minus: Side;
  onChange: (d: Drawn, value: string) => void;
  onEnter: () => void;
  errorOf: (d: Drawn) => string | undefined;
  /** What arrives at the starter, once all of it is known. */
  arrives: string | undefined;
  children: React.ReactNode;
};

/** The starter's circuit while it cranks: every figure sits on its own test lead. */
export function Circuit({ fields, plus, minus, onChange, onEnter, errorOf, arrives, children }: Props) {
  const coarse = useCoarse();
  const [at, setAt] = useState("volts_min");
  const placed = fields.filter((d) => PLACES[d.field.name]);
  const here = placed.find((d) => d.field.name === at) ?? placed[0];
  const wrong = placed.map(errorOf).find(Boolean);
  return (
    <div>
      <div className="relative" style={{ aspectRatio: `${WIDE} / ${HIGH}` }}>
        <Drawing
          live={plus.role === "live" ? plus : minus}
          earthed={plus.role === "live" ? minus : plus}
          at={here?.field.name}
          arrives={arrives}
        />
        {placed.map((d) => (
          <Lead
            key={d.field.name}
            drawn={d}
            on={d === here}
            wrong={errorOf(d) !== undefined}
            onFocus={() => setAt(d.field.name)}
            onChange={(v) => onChange(d, v)}
            onEnter={onEnter}
          />
        ))}
        <div
          className="absolute flex flex-col justify-end"
          style={{ left: `${(304 / WIDE) * 100}%`, right: 0, bottom: 0, height: `${(76 / HIGH) * 100}%` }}
        >
          {children}
        </div>
      </div>
      {wrong && (
        <p role="alert" className="mt-1.5 font-[560] text-oxide">
          {wrong}
        </p>
      )}
      {coarse && here && <Keypad label={here.field.label} onPress={(key) => onChange(here, stroke(here.value, key))} />}
    </div>
  );
}

function Lead(props: {
  drawn: Drawn;
  on: boolean;
  wrong: boolean;
  onFocus: () => void;
  onChange: (v: string) => void;
  onEnter: () => void;
}) {
  const { field, value } = props.drawn;
  const id = useId();
  const coarse = useCoarse();
  const at = PLACES[field.name]!;
  return (
    <div
      className="absolute"
      style={{ left: `${(at.x / WIDE) * 100}%`, top: `${(at.y / HIGH) * 100}%`, width: `${(at.w / WIDE) * 100}%` }}
    >
      <label htmlFor={id} className="cap block leading-none">
        {field.label}
      </label>
      <span className="flex items-baseline outline-copper has-[input:focus-visible]:bg-card has-[input:focus-visible]:outline-2">
        <input
          id={id}
          value={value}
          onChange={(e) => props.onChange(e.target.value)}
          onFocus={props.onFocus}
          onKeyDown={(e) => {
            if (e.key === "Enter" && !e.ctrlKey && !e.metaKey) {
              e.preventDefault();
              props.onEnter();
            } else if (e.key === "Escape") e.currentTarget.blur();
          }}
          inputMode={coarse ? "none" : "decimal"}
          autoComplete="off"
          data-first={field.big || undefined}
          data-big={field.big || undefined}
          aria-invalid={props.wrong || undefined}
          className={`h-11 w-full min-w-0 bg-transparent text-[33px] leading-none lg:text-[42px] font-[760] tracking-tight outline-none ${props.wrong ? "text-oxide" : ""}`}
        />
        <span className="pr-1 text-[17px] font-medium text-soft lg:text-[21px]">{field.unit}</span>
      </span>
    </div>
  );
}

/** The battery, its two cables and the starter, from the side; what is read now has the copper lead. */
function Drawing({
  live,
  earthed,
  at,
  arrives,
}: {
  live: Side;
  earthed: Side;
  at: string | undefined;
  arrives: string | undefined;
}) {
  const liveCable = "M208 129.5C252 129.5 246 92 288 92H478C502 92 510 106 515 124";
  const earthCable = "M98 129.5C62 129.5 46 146 46 168V250";
  const lead = (name: string) => ({
    stroke: name === at ? "var(--copper)" : "var(--ink)",
    strokeWidth: name === at ? 2.6 : 1.8,
  });
  const colour = (s: Side) => (s.lead === "red" ? "var(--copper)" : "var(--ink)");
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      className="absolute inset-0 h-full w-full"
      fill="none"
      strokeLinecap="round"
      strokeLinejoin="round"
      role="img"
      aria-label="While it cranks: volts at the two posts; amps in the live cable; volts from the live post to the starter's terminal; volts from the earthed post to the engine. Joints a to d are stepped over with the probe."
    >
      <g stroke="var(--soft)" strokeWidth="1.3">
        <path d="M470 256V168q0-22 22-22H610q16 0 22-16 18-38 62-46" />
        <path d="M470 256H640q22 30 54 38" />
        <path
          d="M694 110a92 92 0 0 0-56 92 92 92 0 0 0 56 84M694 128a74 74 0 0 0-38 74 74 74 0 0 0 38 68"
          strokeWidth="1"
        />
        <path d="M484 168h10M484 180h10M484 192h10" strokeWidth="1" />
      </g>
      <g stroke="var(--ink)" strokeWidth="1.8" fill="var(--card)">
        <rect x="502" y="134" width="92" height="32" rx="5" />
        <path d="M514 134v32M582 134v32" strokeWidth="1.2" />
        <rect x="496" y="172" width="116" height="48" rx="7" />
        <path d="M510 172v48M596 172v48" strokeWidth="1.2" />
        <path d="M594 142h14q6 0 6 6v24" fill="none" />
        <path d="M612 180h14v32h-14z" />
        <path d="M626 187h11v18h-11z" />
      </g>
      <text x="553" y="201" textAnchor="middle" fontSize="14" fontWeight="600" fill="var(--ink)">
        starter
      </text>
      <path d="M36 249H520V260H36Z" fill="var(--hush)" stroke="var(--ink)" strokeWidth="1.8" />
      <text x="300" y="243" textAnchor="middle" fontSize="13.5" fill="var(--soft)">
        body
      </text>
      <text x="524" y="245" fontSize="13.5" fill="var(--soft)">
        engine
      </text>
      <path d="M432 249C454 249 448 226 474 226" stroke="var(--ink)" strokeWidth="11" />
      <path d="M432 249C454 249 448 226 474 226" stroke="var(--card)" strokeWidth="8" />
      <path
        d="M432 249C454 249 448 226 474 226"
        stroke="var(--ink)"
        strokeWidth="8"
        strokeDasharray="1.3 3"
        strokeLinecap="butt"
      />
      <g stroke="var(--ink)" strokeWidth="1.8">
        <path d="M72 152h156v88a4 4 0 0 1-4 4H76a4 4 0 0 1-4-4z" fill="var(--card)" />
        <path d="M98 162v76M124 162v76M150 162v76M176 162v76M202 162v76" stroke="var(--line)" strokeWidth="1.3" />
        <rect x="66" y="136" width="168" height="17" rx="3" fill="var(--paper)" />
        <path d="M64 235h172v14H64z" fill="var(--hush)" />
        <path d="M100 118h12l1.8 18h-15.6zM194 118h12l1.8 18h-15.6z" fill="var(--paper)" />
      </g>
      <text x="106" y="208" textAnchor="middle" fontSize="32" fontWeight="700" fill={colour(earthed)}>
        {earthed.post}
      </text>
      <text x="200" y="208" textAnchor="middle" fontSize="32" fontWeight="700" fill={colour(live)}>
        {live.post}
      </text>
      {[
        { d: liveCable, fill: colour(live) === "var(--ink)" ? "var(--wet)" : "var(--copper)" },
        { d: earthCable, fill: colour(earthed) === "var(--ink)" ? "var(--wet)" : "var(--copper)" },
      ].map(({ d, fill }) => (
        <g key={d}>
          <path d={d} stroke="var(--ink)" strokeWidth="9.5" />
          <path d={d} stroke={fill} strokeWidth="6.2" />
        </g>
      ))}
      <g fill="var(--card)" stroke="var(--ink)" strokeWidth="1.7">
        <rect x="91" y="124" width="30" height="11" rx="2" />
        <rect x="185" y="124" width="30" height="11" rx="2" />
        <circle cx="46" cy="250" r="6.5" />
        <circle cx="432" cy="249" r="6.5" />
        <circle cx="475" cy="226" r="6.5" />
        <path d="M511.5 118h9v16h-9z" />
      </g>
      <g {...lead("volts_min")}>
        <path d="M24 63H226M106 63V78M200 63V78" />
        <Probe x={106} y={118} />
        <Probe x={199} y={118} />
      </g>
      <g {...lead("drop_live_volts")}>
        <path d="M672 63H494C476 63 476 77 458 77H262C250 77 245 78 238 84M516 63V76" />
        <Probe x={516} y={117} />
        <Probe x={207} y={118} turn={43} />
      </g>
      <g {...lead("amps")}>
        <path d="M262 63H442" />
        <g fill="var(--card)">
          <path
            d="M352 69C336 69 334 82 334 93S338 119 352 119 370 106 370 93 368 69 352 69Z"
            strokeWidth="2.2"
            fill="none"
          />
          <path d="M332 63h40l-6 12h-28z" />
        </g>
      </g>
      <g {...lead("drop_earth_volts")}>
        <path d="M66 90C50 82 24 86 24 118V348C24 362 32 367 48 367H262C278 367 284 360 284 348V298C284 284 292 276 308 276H574C586 276 590 270 590 262" />
        <Probe x={100} y={118} turn={-46} />
        <Probe x={590} y={221} turn={180} />
      </g>
      {[
        { x: 48, y: 116, n: "a" },
        { x: 46, y: 270, n: "b" },
        { x: 412, y: 232, n: "c" },
        { x: 456, y: 206, n: "d" },
      ].map(({ x, y, n }) => (
        <g key={n}>
          <circle cx={x} cy={y} r="8.5" fill="var(--card)" stroke="var(--copper)" strokeWidth="1.6" />
          <text x={x} y={y + 4.2} textAnchor="middle" fontSize="12.5" fontWeight="700" fill="var(--copper)">
            {n}
          </text>
        </g>
      ))}
      {arrives && (
        <g>
          <text x="252" y="168" fontSize="17" fontWeight="740" fill="var(--ink)">
            {arrives}
          </text>
          <path d="M252 180H466M458 175l8 5-8 5" stroke="var(--soft)" strokeWidth="1.6" />
        </g>
      )}
    </svg>
  );
}

function Probe({ x, y, turn = 0 }: { x: number; y: number; turn?: number }) {
  return (
    <g transform={`translate(${x} ${y}) rotate(${turn})`} fill="var(--card)">
      <path d="M0 0V-12" />
      <path d="M-3.2 -12h6.4l1.2 -22a3 3 0 0 0 -3 -3h-2.8a3 3 0 0 0 -3 3z" />
    </g>
  );
}
