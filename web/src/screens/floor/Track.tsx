import type { JobLine } from "../../lib/api";
import { atTime, otherDay } from "../../lib/time";
import type { SignKind } from "../../parts/Sign";

const HOUR = 3_600_000;
const BEHIND = 4 * HOUR;
const AHEAD = 5 * HOUR;

const scale = (now: number, width: number) => (ms: number) => ((ms - now + BEHIND) / (BEHIND + AHEAD)) * width;

/** The hours over the tracks. */
export function TrackRuler({ now, width }: { now: number; width: number }) {
  const x = scale(now, width);
  const hours: number[] = [];
  for (let t = Math.ceil((now - BEHIND) / HOUR) * HOUR; t <= now + AHEAD; t += HOUR) hours.push(t);
  // An hour too near an edge would have its label cut.
  const room = (t: number) => x(t) >= 18 && x(t) <= width - 18;
  return (
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
  );
}

const colour: Record<SignKind, string> = {
  ok: "var(--verdigris)",
  act: "var(--copper)",
  stop: "var(--oxide)",
  note: "var(--ink)",
  wait: "var(--slate)",
};

type Look = { stroke: string; fill: string; dash?: string };

/** A stretch of time with what the battery does in it. */
type Bar = {
  from: number;
  to: number;
  /** What it says, the whole first, then what is left of it where there is less room. */
  words: string[];
  look: Look;
  hatched?: boolean;
};

const looks: Record<"rest" | "warm" | "parts" | "jump" | "charge" | "kept" | "done", Look> = {
  rest: { stroke: "var(--slate)", fill: "var(--slate)" },
  warm: { stroke: "var(--slate)", fill: "url(#dots)" },
  parts: { stroke: "var(--soft)", fill: "var(--paper)", dash: "5 4" },
  jump: { stroke: "var(--copper)", fill: "url(#dots)" },
  charge: { stroke: "var(--copper)", fill: "var(--copper)" },
  kept: { stroke: "var(--verdigris)", fill: "var(--verdigris)" },
  done: { stroke: "var(--verdigris)", fill: "var(--verdigris)" },
};

const stays = { rest: "resting", warm: "warming up", parts: "waits for parts", jump: "on jump leads" };

/** What a battery does over the hours shown: rests, warms, waits, charges, is kept, is done. */
function barsOf(l: JobLine, now: number): Bar[] {
  const bars: Bar[] = [];
  if (l.closed_at) {
    const to = Date.parse(l.closed_at);
    return [{ from: Math.max(Date.parse(l.opened_at), now - BEHIND), to, words: ["handed over"], look: looks.done }];
  }
  if (l.stay) {
    const to = Date.parse(l.stay.ends_at);
    const word = stays[l.stay.kind];
    const words = l.stay.kind === "parts" ? [`${word} until ${otherDay(to)}${atTime(to)}`, word] : [word];
    bars.push({ from: Date.parse(l.stay.starts_at), to, words, look: looks[l.stay.kind] });
  }
  if (l.hung?.since) {
    const from = Date.parse(l.hung.since);
    const full = l.hung.full_at ? Date.parse(l.hung.full_at) : undefined;
    const on = l.hung.charger ? `on ${l.hung.charger}` : "on charge";
    if (full !== undefined && full <= now) {
      bars.push({
        from: full,
        to: now + AHEAD,
        words: [`${on}, full since ${otherDay(full)}${atTime(full)}`, on],
        look: looks.kept,
      });
      bars.push({ from, to: full, words: [], look: looks.charge });
    } else {
      const refuses = l.hung.refuses_until ? Date.parse(l.hung.refuses_until) : from;
      const end = full ?? now + AHEAD;
      if (refuses > now)
        bars.push({
          from,
          to: Math.min(refuses, end),
          words: [`${on}, takes nothing yet`, on],
          look: looks.charge,
          hatched: true,
        });
      const starts = Math.max(from, Math.min(refuses, end));
      const until = full ? `, full ${otherDay(full)}${atTime(full)}` : "";
      bars.push({ from: starts, to: end, words: [`${on}${until}`, on], look: looks.charge });
    }
  }
  return bars;
}

const marks = { rest: "volts", warm: "warm", parts: "parts", jump: "try", check: "look", ready: "test", full: "full" };
const markColour = {
  rest: "wait",
  warm: "wait",
  parts: "wait",
  jump: "act",
  check: "act",
  ready: "ok",
  full: "ok",
} as const;

const letters = (word: string, px: number) => word.length * px;

/** One battery's hours: since when it is in hand, what it does, and the moments it needs hands. */
export function Track({ line: l, now, kind, width }: { line: JobLine; now: number; kind: SignKind; width: number }) {
  const x = scale(now, width);
  const bars = barsOf(l, now);
  const closed = l.closed_at !== undefined;
  const opened = Math.max(0, x(Date.parse(l.opened_at)));
  const hands = !closed && l.wait.at === undefined;
  const whole = letters(l.wait.word, 7) + 18;
  // A flag without room before the edge flies the other way; without room anywhere it is cut.
  const room = { 1: width - x(now), [-1]: x(now) };
  const way = whole <= room[1] || room[1] >= room[-1] ? 1 : -1;
  const flag = Math.min(whole, room[way]);
  const word = whole <= flag ? l.wait.word : `${l.wait.word.slice(0, Math.max(1, Math.floor((flag - 28) / 7)))}…`;
  const coming = l.moments.filter((m) => !m.over && Date.parse(m.at) <= now + AHEAD);
  const said =
    l.moments[0] && !hands ? `${l.wait.word}, ${marks[l.moments[0].kind]} at ${atTime(l.moments[0].at)}` : "";
  return (
    <svg
      width={width}
      height="54"
      className="block"
      role="img"
      aria-label={
        closed ? `Handed over at ${atTime(l.closed_at!)}` : hands ? `${l.wait.word}, now` : said || l.wait.word
      }
    >
      {!closed && <path d={`M${opened} 22v10M${opened} 27H${x(now)}`} stroke="var(--line)" strokeWidth="3" />}
      {bars.map((b, i) => (
        <BarShape key={i} bar={b} x={x} now={x(now)} width={width} hands={hands ? x(now) : undefined} />
      ))}
      <path d={`M${x(now)} 0V54`} stroke="var(--ink)" strokeDasharray="2 3" strokeWidth="1.4" />
      {coming.map((m, i) => {
        const at = x(Date.parse(m.at));
        const word = marks[m.kind];
        const room = letters(word, 6.6) + 10;
        const next = coming[i + 1] ? x(Date.parse(coming[i + 1]!.at)) : Infinity;
        const left = at + room > width;
        const c = colour[markColour[m.kind]];
        return (
          <g key={m.kind}>
            <path d={`M${at} 1V52`} stroke={c} strokeWidth="2.4" />
            {(next > at + room || left) && (
              <>
                <rect x={left ? at - room : at} y="1" width={room} height="15" fill={c} />
                <text
                  x={left ? at - room + 5 : at + 5}
                  y="12.5"
                  fontSize="12"
                  fontWeight="640"
                  fill="var(--paper)"
                  style={{ fontStretch: "90%" }}
                >
                  {word}
                </text>
              </>
            )}
          </g>
        );
      })}
      {hands && (
        <>
          <path d={`M${x(now)} 8V46`} stroke={colour[kind]} strokeWidth="2.6" />
          <path
            d={`M${x(now)} 15h${way * flag}l${way * -8} 12l${way * 8} 12H${x(now)}Z`}
            fill={kind === "wait" ? "var(--card)" : colour[kind]}
            stroke={colour[kind]}
            strokeWidth="1.5"
          />
          <text
            x={x(now) + way * 9}
            y="32"
            textAnchor={way === 1 ? "start" : "end"}
            fontSize="14"
            fontWeight="650"
            fill={kind === "wait" ? "var(--ink)" : "var(--paper)"}
            style={{ fontStretch: "90%" }}
          >
            {word}
          </text>
        </>
      )}
    </svg>
  );
}

function BarShape(props: {
  bar: Bar;
  x: (ms: number) => number;
  now: number;
  width: number;
  /** Where the flag of what needs hands now begins; words stand clear of it. */
  hands: number | undefined;
}) {
  const { bar: b, x, now, width } = props;
  const from = Math.max(-4, x(b.from));
  const to = Math.min(width + 4, x(b.to));
  if (to <= 0 || from >= width || to - from < 1) return null;
  const gone = Math.max(0, Math.min(to, now) - from);
  const dotted = b.look.fill.startsWith("url");
  // Its words stand clear of the now-mark: before it, or after it where there is more room.
  const end = props.hands === undefined ? to : Math.min(to, props.hands);
  const rooms = [
    { at: Math.max(from, 0), room: (from < now ? Math.min(end, now) : end) - Math.max(from, 0) },
    { at: Math.max(from, now + 2), room: end - Math.max(from, now + 2) },
  ];
  const said = b.words
    .flatMap((word) => rooms.map((r) => ({ ...r, word, need: letters(word, 6.7) + 16 })))
    .find((r) => r.room >= r.need);
  return (
    <>
      <rect x={from} y="17" width={to - from} height="24" rx="3" fill={dotted ? b.look.fill : "var(--paper)"} />
      <rect
        x={from}
        y="17"
        width={to - from}
        height="24"
        rx="3"
        fill={b.hatched ? "url(#hatch)" : b.look.fill}
        fillOpacity={b.hatched ? 1 : dotted ? 0 : 0.14}
        stroke={b.look.stroke}
        strokeWidth="1.5"
        strokeDasharray={b.look.dash}
      />
      {!dotted && !b.look.dash && gone > 0 && (
        <rect x={from} y="17" width={gone} height="24" rx="3" fill={b.look.fill} fillOpacity="0.16" />
      )}
      {said && (
        <>
          {(dotted || b.hatched) && (
            <rect x={said.at + 5} y="20" width={said.need - 10} height="18" fill="var(--paper)" />
          )}
          <text
            x={said.at + 9}
            y="33.5"
            fontSize="13"
            fontWeight="560"
            fill="var(--ink)"
            style={{ fontStretch: "88%" }}
          >
            {said.word}
          </text>
        </>
      )}
    </>
  );
}

/** What fills bars of another kind, once for all tracks. */
export const TrackFills = () => (
  <svg width="0" height="0" className="absolute" aria-hidden>
    <defs>
      <pattern id="dots" width="7" height="7" patternUnits="userSpaceOnUse">
        <rect width="7" height="7" fill="var(--paper)" />
        <circle cx="3.5" cy="3.5" r="1.1" fill="var(--slate)" />
      </pattern>
      <pattern id="hatch" width="9" height="9" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="9" height="9" fill="var(--paper)" />
        <rect width="3" height="9" fill="var(--copper)" fillOpacity="0.45" />
      </pattern>
    </defs>
  </svg>
);
