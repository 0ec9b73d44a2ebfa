import { Check } from "lucide-react";
import { Suspense } from "react";
import { Link } from "react-router";
import type { Clock, Moment } from "../lib/api";
import { useGo } from "../lib/leaving";
import { useSay } from "../lib/moments";
import { unsay, useNotices } from "../lib/notices";
import { useNarrow } from "../lib/pointer";
import { useClock, useSession } from "../lib/queries";
import { DemoClock } from "../places";
import { MomentActs } from "./MomentActs";
import { atTime, span, useNow } from "../lib/time";
import { useWidth } from "../lib/width";
import { Sign } from "./Sign";

const HOUR = 3_600_000;
const AHEAD = 6 * HOUR;
const BEHIND = HOUR;

/** The next hours of the whole shop, on every screen. */
export function ClockStrip() {
  const clock = useClock();
  const now = useNow(10_000);
  const narrow = useNarrow();
  const demo = useSession().data?.demo_clock;
  const moments = everything(clock.data);
  return (
    <aside aria-label="The shop's clock" className="screen-only strip flex bg-strip text-[#f5f2ea]">
      <div className="min-w-0 flex-1">
        {narrow ? <Next moments={moments} now={now} /> : <Ruler moments={moments} now={now} />}
      </div>
      {demo && (
        <Suspense>
          <DemoClock />
        </Suspense>
      )}
    </aside>
  );
}

/** A moment of a job, or of what stands: that one is done by looking at it. */
type Shown = {
  key: string;
  ms: number;
  over: boolean;
  tag: string;
  vehicle: string;
  word: string;
  call: string;
  to: string | undefined;
  path: string;
  job: Moment | undefined;
};
type Moments = Shown[];

/** All that waits for the clock, soonest first. */
function everything(clock: Clock | undefined): Moments {
  const jobs = (clock?.moments ?? []).map((m) => ({
    key: `${m.job_id} ${m.kind}`,
    ms: Date.parse(m.at),
    over: m.over,
    tag: m.tag,
    vehicle: m.vehicle,
    word: m.word,
    call: m.call,
    to: m.to,
    path: `/jobs/${m.job_id}?at=${m.station}`,
    job: m,
  }));
  const stands = (clock?.stands ?? []).map((m) => ({
    key: m.path,
    ms: Date.parse(m.at),
    over: m.over,
    tag: m.tag,
    vehicle: m.vehicle,
    word: m.word,
    call: m.word,
    to: undefined,
    path: m.path,
    job: undefined,
  }));
  return [...jobs, ...stands].sort((a, b) => a.ms - b.ms);
}

/** Room that an hour's label and a moment's words take, px. */
const HOUR_ROOM = 42;
const MOMENT_ROOM = 96;
/** And what can be said of one that has come. */
const SAY_ROOM = 88;

/** A phone shows the next moment and how long it is off; while the clock calls, what it calls. */
function Next({ moments, now }: { moments: Moments; now: number }) {
  const call = useNotices().findLast((n) => n.call);
  return (
    <>
      <span role="status" className="sr-only">
        {call?.text}
      </span>
      {call ? (
        <button
          className="flex h-[58px] w-full items-center gap-3 bg-[#a9502a] px-4 text-left leading-tight text-white"
          onClick={() => {
            unsay(call.key);
            call.act?.run();
          }}
        >
          <span className="[&_svg]:text-white">
            <Sign kind="wait" bare />
          </span>
          <b className="line-clamp-2 min-w-0 flex-1 text-[16px] font-[640] break-words">{call.text}</b>
          <span className="shrink-0 font-[700] underline underline-offset-4">{call.act?.word}</span>
        </button>
      ) : (
        <NextMoment moments={moments} now={now} />
      )}
    </>
  );
}

function NextMoment({ moments, now }: { moments: Moments; now: number }) {
  const next = moments[0];
  if (!next)
    return <p className="flex h-[58px] items-center px-4 text-[15px] opacity-80">Nothing waits for the clock</p>;
  const due = next.ms <= now;
  return (
    <div className="flex h-[58px] items-center">
      <Link
        to={next.path}
        className={`flex h-[58px] min-w-0 flex-1 items-center gap-3 pr-2 pl-4 ${due ? "text-[#eda57c] [&_svg]:text-[#eda57c]" : "[&_svg]:text-[#a9c4de]"}`}
      >
        <span>
          <Sign kind="wait" bare />
        </span>
        <b className="shrink-0 text-[20px] font-[720]">{due ? "now" : span(next.ms - now)}</b>
        <span className="line-clamp-2 min-w-0 leading-tight">
          {next.tag} · {due ? next.call : next.word}
          {next.to && `, ${next.to}`}
          {due && moments.length > 1 && <span className="text-[13px]"> {moments.length - 1} more</span>}
        </span>
        {!due && moments.length > 1 && <span className="ml-auto shrink-0 text-[13px]">{moments.length - 1} more</span>}
      </Link>
      {due && <Done moment={next} />}
    </div>
  );
}

/** A moment that has come: done in a tap, or what else can be said of it. */
function Done({ moment: m }: { moment: Shown }) {
  const go = useGo();
  const tell = useSay();
  const { job } = m;
  if (!job) return null;
  return (
    <>
      <button
        className="flex h-12 w-11 shrink-0 items-center justify-center hover:bg-white/10"
        aria-label={`${m.tag} ${m.word}: done`}
        onClick={() => tell(job, { done: true }, "done")}
      >
        <Check size={20} aria-hidden />
      </button>
      <MomentActs strip of={job} onGo={() => go(m.path)} />
    </>
  );
}

/** A wide screen shows the hours as a ruler with a now-mark. */
function Ruler({ moments, now }: { moments: Moments; now: number }) {
  const [ref, width] = useWidth<HTMLDivElement>(1280);
  const from = now - BEHIND;
  const x = (ms: number) => ((ms - from) / (AHEAD + BEHIND)) * width;
  const ticks: number[] = [];
  for (let t = Math.ceil(from / (HOUR / 4)) * (HOUR / 4); t < now + AHEAD; t += HOUR / 4) ticks.push(t);
  // Labels take room; a moment without room for its own is counted on the one before.
  const shown: (Moments[number] & { left: number; more: number; labelled: boolean })[] = [];
  let lead: (typeof shown)[number] | undefined;
  for (const m of moments.filter((m) => m.ms < now + AHEAD)) {
    // What is overdue waits at the now-mark; nothing is cut at the edge.
    const left = Math.min(x(Math.max(m.ms, now)) + (m.ms <= now ? 2 : 0), width - MOMENT_ROOM - 4);
    const labelled = !lead || left > lead.left + roomOf(lead) + (lead.more > 0 ? 52 : 8);
    const one = { ...m, left, more: 0, labelled };
    if (labelled) lead = one;
    else if (lead) lead.more++;
    shown.push(one);
  }
  return (
    <div ref={ref} className="relative h-full">
      <svg width={width} height="66" className="absolute inset-0" aria-hidden>
        {ticks.map((t) => {
          const whole = t % HOUR === 0;
          return (
            <g key={t}>
              <path d={`M${x(t)} 0v${whole ? 11 : 5}`} stroke="currentColor" opacity={whole ? 0.7 : 0.35} />
              {whole && clear(x(t), x(now), width) && (
                <text
                  x={x(t) + 5}
                  y="14"
                  fontSize="12.5"
                  fill="currentColor"
                  opacity="0.8"
                  style={{ fontStretch: "80%" }}
                >
                  {atTime(t)}
                </text>
              )}
            </g>
          );
        })}
        <path d={`M${x(now)} 0V66`} stroke="#fff" strokeWidth="1.5" strokeDasharray="2 3" />
        <path d={`M${x(now) - 6} 0h12l-6 8z`} fill="#fff" />
      </svg>
      {shown.map((m) =>
        m.labelled ? (
          <span key={m.key} className="absolute top-4 flex" style={{ left: m.left }} data-moment={m.job?.job_id}>
            <Link
              to={m.path}
              style={{ width: MOMENT_ROOM }}
              className={`flex h-[48px] flex-col justify-center border-l-[2.5px] pl-1.5 leading-tight hover:bg-white/10 ${m.over ? "border-[#eda57c]" : "border-[#a9c4de]"}`}
            >
              <span className="truncate text-[14.5px] font-bold">{m.tag} </span>
              <span
                className={`truncate text-[13.5px] ${m.over ? "text-[#eda57c]" : "text-[#a9c4de]"}`}
                style={{ fontStretch: "84%" }}
              >
                {m.to ? `${m.to}: ${m.word}` : m.word}
                <span className="sr-only">
                  {" "}
                  at {atTime(m.ms)}, {m.vehicle}
                </span>
              </span>
            </Link>
            {m.over && <Done moment={m} />}
            {m.more > 0 && (
              <Link
                to="/?wait=clock"
                aria-label={`+${m.more} near then: all that waits for the clock`}
                className="flex h-[48px] w-11 items-center justify-center text-[15px] font-[640] hover:bg-white/10"
              >
                +{m.more}
              </Link>
            )}
          </span>
        ) : (
          <span
            key={m.key}
            aria-hidden
            data-moment={m.job?.job_id}
            style={{ left: m.left }}
            className={`absolute bottom-0 h-2.5 w-[2.5px] ${m.over ? "bg-[#eda57c]" : "bg-[#a9c4de]"}`}
          />
        ),
      )}
      {clockEmpty(shown.length)}
    </div>
  );
}

const roomOf = (m: Shown) => MOMENT_ROOM + (m.over && m.job ? SAY_ROOM : 0);

/** Whether an hour's label has room: not under the now-mark, not cut at the edge. */
const clear = (at: number, now: number, width: number) =>
  at + HOUR_ROOM < width && (at > now + 8 || at + HOUR_ROOM < now - 8);

const clockEmpty = (n: number) =>
  n === 0 && (
    <p className="absolute top-7 left-[17%] text-[14px] opacity-75">
      Nothing waits for the clock in the next six hours.
    </p>
  );
