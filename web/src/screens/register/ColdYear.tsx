import { useNavigate } from "react-router";
import type { BatteryLine } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";
import { usePerson } from "../../lib/queries";
import { showTemp } from "../../lib/units";
import { useWidth } from "../../lib/width";

const DAY = 86_400_000;
const month = new Intl.DateTimeFormat(undefined, { month: "short", timeZone: "UTC" });

/** The coming year's coldest nights as a line, and on it each battery in the week it fails. */
export function ColdYear({ now, lows, batteries }: { now: string; lows: number[]; batteries: BatteryLine[] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const narrow = useNarrow();
  const scale = usePerson().temperature;
  const go = useNavigate();
  const start = Date.parse(now);
  const end = start + 365 * DAY;
  const height = narrow ? 150 : 190;
  const left = 40;
  const bottom = height - 26;
  const top = 20;
  const warm = Math.max(...lows, 0) + 1;
  const cold = Math.min(...lows, -1) - 1;
  const x = (t: number) => left + ((t - start) / (end - start)) * (width - left - 6);
  const y = (c: number) => top + ((warm - c) / (warm - cold)) * (bottom - top);
  // The middle of each month, as far as it is drawn.
  const first = new Date(start);
  const middles = Array.from({ length: 15 }, (_, i) => {
    const at = Date.UTC(first.getUTCFullYear(), first.getUTCMonth() - 1 + i, 15);
    return { at, low: lows[new Date(at).getUTCMonth()]! };
  });
  const line = middles.map((m, i) => `${i ? "L" : "M"}${x(m.at).toFixed(1)} ${y(m.low).toFixed(1)}`).join("");
  // Batteries of one week stand over each other.
  const weeks = new Map<string, BatteryLine[]>();
  for (const b of batteries) weeks.set(b.life.fails!.week!, [...(weeks.get(b.life.fails!.week!) ?? []), b]);
  const spoken = `Coldest nights of the coming year, and ${batteries.length} batteries in the weeks they fail: ${batteries
    .slice(0, 12)
    .map((b) => `${b.tag} ${b.life.fails!.week!.slice(0, 10)}`)
    .join(", ")}`;
  return (
    <div ref={ref} className="mt-3 w-full [contain:inline-size]">
      <svg width={width} height={height} role="img" aria-label={spoken} className="block">
        <clipPath id="coldyear">
          <rect x={left} y="0" width={width - left} height={bottom} />
        </clipPath>
        {[0, cold + 1, warm - 1].map((c, i) => (
          <g key={i}>
            <path
              d={`M${left} ${y(c)}H${width}`}
              stroke="var(--line)"
              strokeWidth="1.2"
              strokeDasharray={c === 0 ? undefined : "2 5"}
            />
            <text x={left - 6} y={y(c) + 4} textAnchor="end" fontSize="12" fill="var(--soft)">
              {showTemp(c, scale)}°
            </text>
          </g>
        ))}
        {middles.map((m) => {
          const from = Date.UTC(new Date(m.at).getUTCFullYear(), new Date(m.at).getUTCMonth(), 1);
          return (
            from > start &&
            from < end && (
              <g key={m.at}>
                <path d={`M${x(from)} ${top}V${bottom + 5}`} stroke="var(--line)" />
                <text x={x(from) + 4} y={bottom + 17} fontSize="12" fill="var(--soft)">
                  {narrow ? month.format(from).slice(0, 1) : month.format(from)}
                </text>
              </g>
            )
          );
        })}
        <g clipPath="url(#coldyear)">
          <path d={line} fill="none" stroke="var(--slate)" strokeWidth="2.6" strokeLinejoin="round" />
        </g>
        {[...weeks].map(([at, some]) => {
          const cx = Math.max(left + 6, x(Date.parse(at) + 3 * DAY));
          const cy = y(some[0]!.life.fails!.low_c ?? 0);
          const step = Math.min(13, (bottom - 4 - cy) / Math.max(1, some.length - 1));
          return some.map((b, i) => (
            <path
              key={b.tag}
              d={`M${cx} ${cy + i * step - 6.5}l6.5 6.5-6.5 6.5-6.5-6.5z`}
              fill={b.life.tested ? "var(--copper)" : "var(--paper)"}
              stroke="var(--copper)"
              strokeWidth="1.8"
              className="cursor-pointer"
              onClick={() => void go(`/register/${encodeURIComponent(b.tag)}`)}
            />
          ));
        })}
      </svg>
      <p className="text-[13px] text-soft">
        Coldest nights of the year to come; a diamond for each battery in the week it first fails, open where its age
        alone says so.
      </p>
    </div>
  );
}
