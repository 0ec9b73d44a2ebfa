import { useId } from "react";
import type { Gauge } from "../lib/api";
import { useNarrow } from "../lib/pointer";
import { showNumber } from "../lib/units";
import { useWidth } from "../lib/width";
import { tone } from "./Sign";

/** Rough width of a condensed word, px. */
const wordWidth = (word: string) => word.length * 6.1;

type Placed = Gauge["notches"][number] & { x: number; textX: number; row: number };

/** Puts the words under the notches: side by side where a nudge makes room, else in a row below. */
function place(notches: Gauge["notches"], x: (v: number) => number, width: number): Placed[] {
  const placed: Placed[] = [];
  for (const notch of [...notches].sort((a, b) => a.at - b.at)) {
    const half = wordWidth(notch.word) / 2;
    const one = {
      ...notch,
      x: x(notch.at),
      textX: Math.min(Math.max(x(notch.at), half + 2), width - half - 2),
      row: 0,
    };
    const before = placed.at(-1);
    if (before) {
      const halfBefore = wordWidth(before.word) / 2;
      const over = before.textX + halfBefore + 12 - (one.textX - half);
      const room = Math.min(half, halfBefore) - 8;
      if (
        over > 0 &&
        over / 2 <= room &&
        before.textX - halfBefore - over / 2 > 0 &&
        one.textX + half + over / 2 < width
      ) {
        before.textX -= over / 2;
        one.textX += over / 2;
      } else if (over > 0) {
        one.row = before.row + 1;
      }
    }
    placed.push(one);
  }
  return placed;
}

/**
 * A stick with a cut end, wetted up to the reading. The stretch that is
 * uncertain is hatched; notches are the house's limits, dashed ones the other
 * school's.
 */
export function Dipstick({ gauge, name }: { gauge: Gauge; name: string }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const narrow = useNarrow();
  const id = useId();
  const left = 26;
  const right = width - 6;
  const y = 34;
  const h = 16;
  const clamp = (v: number) => Math.min(Math.max(v, gauge.min), gauge.max);
  const x = (v: number) => left + ((clamp(v) - gauge.min) / (gauge.max - gauge.min)) * (right - left - 14);
  const notches = place(
    gauge.notches.filter((n) => n.at >= gauge.min && n.at <= gauge.max),
    x,
    width,
  );
  // On a phone the words of the other schools give way to the keypad; the notches stay.
  const rows = narrow ? 1 : Math.max(1, ...notches.map((n) => n.row + 1));
  const height = y + h + 8 + rows * 16;
  const outline = `M${left} ${y}H${right - 12}L${right} ${y + h}H${left}Z`;
  const scale: number[] = [];
  for (let v = gauge.min; v <= gauge.max + 1e-9; v += gauge.step) scale.push(v);
  const band = gauge.band;
  const half = (gauge.label.length * 7.6) / 2;
  const labelX = band ? Math.min(Math.max(x(band.best), half), width - half) : left;
  const spoken = `${name}: ${gauge.label}. Limits: ${gauge.notches.map((n) => n.word + (n.ghost ? " (other school)" : "")).join(", ")}.`;
  return (
    <div ref={ref} className="w-full [contain:inline-size]">
      <svg width={width} height={height} role="img" aria-label={spoken} className="block overflow-visible">
        <defs>
          <pattern id={`${id}h`} width="6" height="6" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
            <rect width="6" height="6" fill="var(--card)" />
            <rect width="2.4" height="6" fill="var(--wet)" />
          </pattern>
          <clipPath id={`${id}c`}>
            <path d={outline} />
          </clipPath>
        </defs>
        <circle cx={left - 11} cy={y + h / 2} r="9.5" fill="none" stroke="var(--ink)" strokeWidth="3" />
        <path d={outline} fill="var(--card)" />
        {band && (
          <g clipPath={`url(#${id}c)`}>
            <rect x={left} y={y} width={Math.max(0, x(band.low) - left)} height={h} fill="var(--wet)" />
            <rect
              x={x(band.low)}
              y={y}
              width={Math.max(3, x(band.high) - x(band.low))}
              height={h}
              fill={`url(#${id}h)`}
            />
          </g>
        )}
        <path d={outline} fill="none" stroke="var(--ink)" strokeWidth="1.8" strokeLinejoin="round" />
        {scale.map((v) => (
          <path key={v} d={`M${x(v)} ${y}v-5`} stroke="var(--soft)" />
        ))}
        {notches.map((n) => (
          <g key={n.word}>
            <path
              d={`M${n.x - 7} ${y + h + 0.5}L${n.x} ${y + h - 9}L${n.x + 7} ${y + h + 0.5}Z`}
              fill={n.ghost ? "none" : "var(--paper)"}
              stroke={!n.ghost ? "var(--ink)" : band && n.at < band.low ? "var(--card)" : "var(--soft)"}
              strokeWidth="1.6"
              strokeDasharray={n.ghost ? "3 2.5" : undefined}
            />
            <text
              visibility={n.row < rows ? undefined : "hidden"}
              x={n.textX}
              y={y + h + 17 + n.row * 16}
              textAnchor="middle"
              fontSize="13"
              fontWeight="600"
              fill={n.ghost ? "var(--soft)" : "var(--ink)"}
              style={{ fontStretch: "80%" }}
            >
              {n.word}
            </text>
          </g>
        ))}
        {gauge.was && (
          <g stroke="var(--soft)" strokeWidth="2.2" fill="none">
            <path d={`M${x(gauge.was.best)} ${y - 7}V${y + h + 3}`} strokeDasharray="3 2.5" />
            {band && Math.abs(x(band.best) - x(gauge.was.best)) > 18 && (
              <path
                d={`M${x(gauge.was.best)} ${y - 6}H${x(band.best) + (band.best < gauge.was.best ? 6 : -6)}m${band.best < gauge.was.best ? 6 : -6}-4l${band.best < gauge.was.best ? -6 : 6} 4 ${band.best < gauge.was.best ? 6 : -6} 4`}
              />
            )}
          </g>
        )}
        {band ? (
          <g className={tone[gauge.level]} fill="currentColor">
            <path d={`M${x(band.best)} ${y - 9}V${y + h}`} stroke="currentColor" strokeWidth="2.6" />
            <text x={labelX} y={y - 14} textAnchor="middle" fontSize="15" fontWeight="750">
              {gauge.label}
            </text>
          </g>
        ) : (
          <text x={left} y={y - 14} fontSize="14" fill="var(--soft)">
            {gauge.was ? gauge.label : `${name}: ${gauge.label}`}
          </text>
        )}
      </svg>
    </div>
  );
}

/** A dipstick the size of a word, for a folded station. */
export function MiniStick({ gauge }: { gauge: Gauge }) {
  const band = gauge.band;
  if (!band) return null;
  const part = (v: number) => Math.min(1, Math.max(0, (v - gauge.min) / (gauge.max - gauge.min)));
  const x = (v: number) => 14 + part(v) * 92;
  return (
    <svg viewBox="0 0 112 18" aria-hidden className="block w-full max-w-[190px] shrink-0">
      <circle cx="7" cy="9" r="5" fill="none" stroke="var(--ink)" strokeWidth="1.8" />
      <path d="M13 5H104L110 13H13Z" fill="var(--card)" stroke="var(--ink)" strokeWidth="1.4" />
      <rect x="14" y="6" width={Math.max(0, x(band.best) - 14)} height="6.4" fill="var(--wet)" />
      {gauge.notches
        .filter((n) => !n.ghost)
        .slice(0, 1)
        .map((n) => (
          <path key={n.word} d={`M${x(n.at)} 2v14`} stroke="var(--ink)" strokeWidth="1.6" />
        ))}
      <title>{`${gauge.label}${band ? `, ${showNumber(band.best, gauge.digits)} ${gauge.unit}` : ""}`}</title>
    </svg>
  );
}
