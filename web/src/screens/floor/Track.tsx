import type { JobLine } from "../../lib/api";
import { atTime } from "../../lib/time";
import { useWidth } from "../../lib/width";
import type { SignKind } from "../../parts/Sign";

const HOUR = 3_600_000;
const BEHIND = 4 * HOUR;
const AHEAD = 5 * HOUR;

const scale = (now: number, width: number) => (ms: number) => ((ms - now + BEHIND) / (BEHIND + AHEAD)) * width;

/** The hours over the tracks. */
export function TrackRuler({ now }: { now: number }) {
  const [ref, width] = useWidth<HTMLDivElement>(900);
  const x = scale(now, width);
  const hours: number[] = [];
  for (let t = Math.ceil((now - BEHIND) / HOUR) * HOUR; t <= now + AHEAD; t += HOUR) hours.push(t);
  // An hour too near an edge would have its label cut.
  const room = (t: number) => x(t) >= 18 && x(t) <= width - 18;
  return (
    <div className="hidden md:grid md:grid-cols-[min(42%,380px)_minmax(0,1fr)] md:gap-x-4" aria-hidden>
      <span />
      <div ref={ref}>
        <svg width={width} height="26" className="block">
          {hours.map((t) => (
            <g key={t}>
              <path d={`M${x(t)} 17v9`} stroke="var(--soft)" />
              {room(t) && (
                <text x={x(t)} y="12" fontSize="12.5" textAnchor="middle" fill="var(--soft)">
                  {atTime(t)}
                </text>
              )}
            </g>
          ))}
          <path d={`M${x(now) - 6} 16h12l-6 9z`} fill="var(--ink)" />
        </svg>
      </div>
    </div>
  );
}

const colour: Record<SignKind, string> = {
  ok: "var(--verdigris)",
  act: "var(--copper)",
  stop: "var(--oxide)",
  note: "var(--ink)",
  wait: "var(--slate)",
};

/** One battery's hours: since when it is in hand, its rest, and the moment it needs hands. */
export function Track({ line: l, now, kind }: { line: JobLine; now: number; kind: SignKind }) {
  const [ref, width] = useWidth<HTMLDivElement>(900);
  const x = scale(now, width);
  const opened = Math.max(0, x(new Date(l.opened_at).getTime()));
  const start = l.rest && Math.max(0, x(new Date(l.rest.starts_at).getTime()));
  const end = l.rest && x(new Date(l.rest.ends_at).getTime());
  // What lies beyond the hours shown stands at their edge.
  const at = Math.min(l.wait.at ? x(new Date(l.wait.at).getTime()) : x(now), width - 2);
  const word = l.wait.at ? `volts at ${atTime(l.wait.at)}` : l.wait.word;
  const flag = word.length * 7 + 18;
  // Its word stands clear of the now-mark.
  const resting = start === undefined || x(now) > start + 62 ? (start ?? 0) + 9 : Math.max(start + 9, x(now) + 7);
  // A flag without room before the edge flies the other way.
  const way = at + flag > width ? -1 : 1;
  return (
    <div ref={ref}>
      <svg
        width={width}
        height="54"
        className="block"
        role="img"
        aria-label={l.wait.at ? `${l.wait.word} at ${atTime(l.wait.at)}` : `${l.wait.word}, now`}
      >
        <path d={`M${opened} 22v10M${opened} 27H${x(now)}`} stroke="var(--line)" strokeWidth="3" />
        {start !== undefined && end !== undefined && (
          <>
            <rect
              x={start}
              y="13"
              width={Math.max(4, end - start - 1)}
              height="28"
              rx="3"
              fill="var(--paper)"
              stroke="var(--slate)"
              strokeWidth="1.5"
            />
            <rect
              x={start}
              y="13"
              width={Math.max(0, Math.min(end, x(now)) - start)}
              height="28"
              rx="3"
              fill="var(--slate)"
              opacity="0.22"
            />
            {end - resting > 53 && way === 1 && (
              <text
                x={resting}
                y="31.5"
                fontSize="13.5"
                fontWeight="560"
                fill="var(--ink)"
                style={{ fontStretch: "88%" }}
              >
                resting
              </text>
            )}
          </>
        )}
        <path d={`M${x(now)} 0V52`} stroke="var(--ink)" strokeDasharray="2 3" strokeWidth="1.4" />
        <path d={`M${at} 8V46`} stroke={colour[kind]} strokeWidth="2.6" />
        <path
          d={`M${at} 14h${way * flag}l${way * -8} 12l${way * 8} 12H${at}Z`}
          fill={kind === "wait" ? "var(--card)" : colour[kind]}
          stroke={colour[kind]}
          strokeWidth="1.5"
        />
        <text
          x={at + way * 9}
          y="31"
          textAnchor={way === 1 ? "start" : "end"}
          fontSize="14"
          fontWeight="650"
          fill={kind === "wait" ? "var(--ink)" : "var(--paper)"}
          style={{ fontStretch: "90%" }}
        >
          {word}
        </text>
      </svg>
    </div>
  );
}
