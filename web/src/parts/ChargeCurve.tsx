import type { ChargePlan, Charging } from "../lib/api";
import { atTime, otherDay, span, useNow } from "../lib/time";
import { useWidth } from "../lib/width";

const hour = 3_600_000;

type Curve = Pick<Charging["now"], "points" | "band">;
type Props = Curve & {
  /** When it was, or would be, hung on, ms. */
  since: number;
  /** The forecast before the last look. */
  before?: Curve | undefined;
  looks: { at: number; volts?: number | undefined; amps?: number | undefined }[];
  ready?: number | undefined;
  full?: number | undefined;
  fullHours?: Charging["now"]["full"];
  /** What it comes to in words, for who does not see it. */
  says?: string | undefined;
};

const time = (iso: string | undefined) => (iso ? Date.parse(iso) : undefined);

/** A charge under way, as the curve draws it. */
export const ofCharge = (c: Charging): Props => ({
  since: Date.parse(c.since),
  points: c.now.points,
  band: c.now.band,
  before: c.before,
  looks: c.looks.map((l) => ({ at: Date.parse(l.at), volts: l.volts, amps: l.amps })),
  ready: time(c.ready_at),
  full: time(c.full_at),
  fullHours: c.now.full,
  says: c.follows.text,
});

/** A charge that is planned to begin now. */
export const ofPlan = (p: ChargePlan, now: number): Props => ({
  since: now,
  points: p.curve,
  band: p.band,
  looks: [],
  ready: p.hours_to_test_ready === undefined ? undefined : now + p.hours_to_test_ready * hour,
  full: p.hours_to_full === undefined ? undefined : now + p.hours_to_full * hour,
  fullHours: p.full,
});

/** Volts and amps of a charge over its hours, with what is not known, what was seen, and when it is ready and full. */
export function ChargeCurve(props: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const now = useNow(30_000);
  const { since, points, band, looks, before } = props;
  const end = since + (points.at(-1)?.minute ?? 60) * 60_000;
  const narrow = width < 520;
  const left = narrow ? 30 : 38;
  const right = width - (narrow ? 4 : 10);
  const top = narrow ? 64 : 72;
  const tall = { volts: narrow ? 108 : 124, amps: narrow ? 72 : 84 };
  const gap = 28;
  const ampsTop = top + tall.volts + gap;
  const bottom = ampsTop + tall.amps;
  const height = bottom + 30;
  const x = (ms: number) => left + ((right - left) * (ms - since)) / Math.max(1, end - since);
  const at = (minute: number) => x(since + minute * 60_000);
  const all = [...band, ...(before?.band ?? [])];
  const low = Math.floor(Math.min(...all.slice(1).map((b) => b.volts_low), ...looks.map((l) => l.volts ?? 99)));
  const high = Math.ceil(Math.max(...all.map((b) => b.volts_high), ...looks.map((l) => l.volts ?? 0)));
  const most = nice(Math.max(...points.map((p) => p.amps), ...looks.map((l) => l.amps ?? 0), 0.1));
  const v = (volts: number) => top + tall.volts * (1 - (clamp(volts, low, high) - low) / Math.max(1, high - low));
  const a = (amps: number) => ampsTop + tall.amps * (1 - clamp(amps, 0, most) / most);
  const line = (ys: { minute: number; y: number }[]) =>
    ys.map((p, i) => `${i ? "L" : "M"}${at(p.minute).toFixed(1)} ${p.y.toFixed(1)}`).join("");
  const area = (lo: (b: (typeof band)[number]) => number, hi: typeof lo) =>
    line(band.map((b) => ({ minute: b.minute, y: hi(b) }))) +
    [...band]
      .reverse()
      .map((b) => `L${at(b.minute).toFixed(1)} ${lo(b).toFixed(1)}`)
      .join("") +
    "Z";
  const was = before?.points.filter((p) => at(p.minute) <= right) ?? [];
  const step = hoursBetween((end - since) / hour, right - left);
  const ticks: number[] = [];
  for (let t = Math.ceil(since / (step * hour)) * step * hour; t <= end; t += step * hour) ticks.push(t);
  const voltTicks: number[] = [];
  for (let t = low; t <= high; t++) voltTicks.push(t);
  const moments = [
    { key: "now", ms: now, word: narrow ? "now" : `now, ${span(now - since)} in`, show: now > since && now < end },
    { key: "ready", ms: props.ready ?? 0, word: "ready to test", show: props.ready !== undefined },
    { key: "full", ms: props.full ?? 0, word: fullWord(props), show: props.full !== undefined },
  ].filter((m) => m.show && m.ms >= since && m.ms <= end);
  const placed = spread(
    moments.map((m) => x(m.ms)),
    narrow ? 104 : 140,
    right,
  );
  return (
    <div ref={ref} className="w-full [contain:inline-size]">
      <svg width={width} height={height} role="img" aria-label={spoken(props)} className="block overflow-visible">
        {voltTicks.map((t) => (
          <g key={t}>
            <path d={`M${left} ${v(t)}H${right}`} stroke="var(--line)" />
            <text x={left - 6} y={v(t) + 4} textAnchor="end" fontSize="13" fill="var(--soft)">
              {t}
            </text>
          </g>
        ))}
        {[0, most / 2, most].map((t) => (
          <g key={t}>
            <path d={`M${left} ${a(t)}H${right}`} stroke={t ? "var(--line)" : "var(--ink)"} strokeWidth={t ? 1 : 1.5} />
            <text x={left - 6} y={a(t) + 4} textAnchor="end" fontSize="13" fill="var(--soft)">
              {t}
            </text>
          </g>
        ))}
        {ticks.map((t) => (
          <g key={t}>
            <path d={`M${x(t)} ${bottom}v5`} stroke="var(--ink)" />
            <text x={x(t)} y={bottom + 19} textAnchor="middle" fontSize="13" fill="var(--soft)">
              {atTime(t)}
            </text>
          </g>
        ))}
        <path
          d={area(
            (b) => v(b.volts_low),
            (b) => v(b.volts_high),
          )}
          fill="var(--ink)"
          opacity="0.1"
        />
        <path
          d={area(
            (b) => a(b.amps_low),
            (b) => a(b.amps_high),
          )}
          fill="var(--copper)"
          opacity="0.14"
        />
        {was.length > 0 && (
          <g fill="none" stroke="var(--soft)" strokeWidth="1.6" strokeDasharray="5 4">
            <path d={line(was.map((p) => ({ minute: p.minute, y: v(p.volts) })))} />
            <path d={line(was.map((p) => ({ minute: p.minute, y: a(p.amps) })))} />
          </g>
        )}
        <path
          d={line(points.map((p) => ({ minute: p.minute, y: v(p.volts) })))}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="2.4"
        />
        <path
          d={line(points.map((p) => ({ minute: p.minute, y: a(p.amps) })))}
          fill="none"
          stroke="var(--copper)"
          strokeWidth="2.4"
        />
        <text x={left + 4} y={top - 5} fontSize="13" fontWeight="700" fill="var(--ink)">
          volts
        </text>
        <text x={left + 4} y={ampsTop - 5} fontSize="13" fontWeight="700" fill="var(--copper)">
          amps
        </text>
        {looks.map((l) => (
          <g key={l.at} strokeWidth="2.2" fill="none">
            {l.volts !== undefined && <path d={cross(x(l.at), v(l.volts))} stroke="var(--ink)" />}
            {l.amps !== undefined && <path d={cross(x(l.at), a(l.amps))} stroke="var(--copper)" />}
          </g>
        ))}
        {moments.map((m, i) => {
          const at = placed[i]!;
          const done = m.key !== "now";
          return (
            <g key={m.key} fill={done ? "var(--verdigris)" : "var(--ink)"}>
              <path
                d={`M${x(m.ms)} ${top - 12}V${bottom}`}
                stroke={done ? "var(--verdigris)" : "var(--ink)"}
                strokeWidth={done ? 2 : 1.6}
                strokeDasharray={done ? undefined : "2 4"}
              />
              <text
                x={at}
                y={narrow ? 24 : 28}
                fontSize={done ? (narrow ? 24 : 32) : narrow ? 20 : 26}
                fontWeight="760"
              >
                {atTime(m.ms)}
              </text>
              <text x={at} y={narrow ? 41 : 47} fontSize="13" fontWeight="600">
                {otherDay(m.ms)}
                {m.word}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}

const clamp = (n: number, lo: number, hi: number) => Math.min(hi, Math.max(lo, n));
const cross = (x: number, y: number) => `M${x - 5} ${y - 5}l10 10m0-10-10 10`;

/** A round figure at or above one, to divide by two. */
function nice(n: number): number {
  const p = 10 ** Math.floor(Math.log10(n));
  return [1, 2, 4, 6, 8, 10].map((m) => m * p).find((m) => m >= n * 0.999) ?? 10 * p;
}

/** Hours between the marks of a span, so that their times do not touch. */
const hoursBetween = (hours: number, px: number) => [0.5, 1, 2, 3, 6, 12, 24].find((h) => (px / hours) * h >= 52) ?? 48;

/** Where words begin that belong over places, at least so far apart and inside the edge. */
function spread(xs: number[], apart: number, edge: number): number[] {
  const out: number[] = [];
  xs.forEach((x, i) => out.push(i ? Math.max(x + 5, out[i - 1]! + apart) : x + 5));
  for (let i = out.length - 1, most = edge - apart + 12; i >= 0; i--, most -= apart) out[i] = Math.min(out[i]!, most);
  return out;
}

/** How far off full may be, as people say it: to five minutes, half an hour, an hour. */
function fullWord({ fullHours: full }: Props): string {
  if (!full?.high) return "full, if not later";
  const off = Math.max(full.high - full.best, full.best - full.low) * 60;
  if (off < 55) return `full, ± ${Math.max(5, 5 * Math.round(off / 5))} min`;
  const halves = Math.round(off / 30);
  return halves < 6 && halves % 2 ? `full, ± ${Math.floor(halves / 2)}½ h` : `full, ± ${Math.round(off / 60)} h`;
}

function spoken(props: Props): string {
  const parts = props.says ? [props.says] : [];
  if (props.ready !== undefined) parts.push(`Ready to test at ${atTime(props.ready)}.`);
  if (props.full !== undefined) parts.push(`Full at ${atTime(props.full)}.`);
  return parts.join(" ");
}
