import { useEffect, useState } from "react";
import { Link, useLocation, useNavigate, useSearchParams } from "react-router";
import type { JobLine } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";
import { useJobs } from "../../lib/queries";
import { onDay, span, useNow, waited } from "../../lib/time";
import { Failure, Loading } from "../../parts/Failure";
import { Sign, tone, type SignKind } from "../../parts/Sign";
import { Empty } from "./Empty";
import { count, Filters, useFilter } from "./Filters";
import { ImportCase } from "./ImportCase";
import { MomentActs } from "../../parts/MomentActs";
import { useGo } from "../../lib/leaving";
import { useWidth } from "../../lib/width";
import { Track, TrackFills, TrackRuler } from "./Track";

/** Everything in hand, by when it needs hands. */
export function Floor() {
  const [params, setParams] = useSearchParams();
  const closed = params.get("show") === "closed";
  const find = params.get("find") ?? "";
  const { set, ...narrowed } = useFilter();
  const { most, more } = useMore(`${closed} ${find} ${narrowed.wait} ${narrowed.by}`);
  const jobs = useJobs({ closed, find, ...(closed ? {} : narrowed), ...(most > PART ? { most } : {}) });
  const now = useNow(10_000);
  useOpenSingle(jobs.data?.jobs, jobs.isSuccess && !jobs.isPlaceholderData);
  if (jobs.isPending) return <Loading what="the floor" />;
  if (jobs.isError && !jobs.data) return <Failure error={jobs.error} retry={() => void jobs.refetch()} />;
  const { jobs: lines, all, tally, done } = jobs.data;
  const stale = jobs.isPlaceholderData;
  return (
    <div className="mx-auto max-w-[1500px] px-4 py-4 md:px-6">
      <div className="mb-3 flex flex-wrap items-end gap-x-6 gap-y-3">
        {closed || find ? (
          <Listing closed={closed} find={find} n={all} stale={stale} />
        ) : (
          <Next
            first={lines[0]}
            now={now}
            hands={narrowed.wait === "clock" ? 0 : count(tally, { ...narrowed, wait: "hands" })}
            clock={narrowed.wait === "hands" ? 0 : count(tally, { ...narrowed, wait: "clock" })}
          />
        )}
        <div className="flex flex-wrap items-center gap-2 max-md:w-full md:ml-auto">
          <button
            className="btn btn-quiet"
            onClick={() => setParams(closed ? {} : { show: "closed", ...(find ? { find } : {}) })}
          >
            {closed ? "Show what is in hand" : "Show handed over"}
          </button>
          <ImportCase />
          <Link to="/jobs/new" className="btn max-md:order-first max-md:w-full">
            New job <kbd>n</kbd>
          </Link>
        </div>
      </div>
      {!closed && <Filters tally={tally} filter={{ ...narrowed, set }} />}
      {lines.length === 0 ? (
        jobs.data.earlier.length > 0 ? (
          <Earlier lines={jobs.data.earlier} all={jobs.data.earlier_all} now={now} find={find} />
        ) : (
          <Empty closed={closed} find={find} filtered={count(tally, {}) > 0} stale={stale} />
        )
      ) : (
        <div className={stale ? "opacity-45" : ""}>
          <Rows lines={lines} now={now} closed={closed} />
          {done.length > 0 && (
            <>
              <p className="cap mt-6 mb-1">Handed over in the last hours</p>
              <Rows lines={done} now={now} closed={false} bare />
            </>
          )}
          {!closed && find && jobs.data.earlier.length > 0 && (
            <Earlier lines={jobs.data.earlier} all={jobs.data.earlier_all} now={now} find={find} />
          )}
          {lines.length < all && <More shown={lines.length} all={all} onPress={more} busy={jobs.isFetching} />}
        </div>
      )}
    </div>
  );
}

/** What was handed over and is found too, through all the years. */
function Earlier({ lines, all, now, find }: { lines: JobLine[]; all: number; now: number; find: string }) {
  return (
    <>
      <p className="cap mt-6 mb-1">Handed over, through the years</p>
      <Rows lines={lines} now={now} closed />
      {all > lines.length && (
        <Link className="btn btn-quiet" to={`/?${new URLSearchParams({ show: "closed", find })}`}>
          All {all} that were handed over
        </Link>
      )}
    </>
  );
}

/** The jobs one below the other; what is in hand over the hours, beside a ruler. */
function Rows(props: { lines: JobLine[]; now: number; closed: boolean; bare?: boolean }) {
  const { lines, now, closed } = props;
  const narrow = useNarrow();
  const [ref, width] = useWidth<HTMLDivElement>(900);
  const tracks = !closed && !narrow;
  return (
    <>
      {tracks && (
        <div className={`${row} pr-11`} aria-hidden>
          <span />
          <div ref={ref}>
            {!props.bare && <TrackFills />}
            {!props.bare && <TrackRuler now={now} width={width} />}
          </div>
        </div>
      )}
      <ul className="border-b border-line">
        {lines.map((l) => (
          <li key={l.id} className="flex items-center border-t border-line">
            <Row line={l} now={now} closed={closed} width={width} />
            {!closed && <Acts line={l} />}
          </li>
        ))}
      </ul>
    </>
  );
}

const row = "hidden gap-x-4 md:grid md:grid-cols-[min(42%,380px)_minmax(0,1fr)]";

/** What can be said of the next moment of a job; room for it where there is none. */
function Acts({ line: l }: { line: JobLine }) {
  const go = useGo();
  const m = l.moments[0];
  if (!m) return <span className="w-11 shrink-0 max-md:hidden" />;
  return <MomentActs of={{ ...m, job_id: l.id, tag: l.tag }} onGo={() => go(`/jobs/${l.id}?at=${m.station}`)} />;
}

/** As many jobs as are shown before more are asked for, and as many more each time. */
const PART = 200;

/** How many are shown of one list; another list begins anew. */
function useMore(list: string) {
  const [state, setState] = useState({ list, most: PART });
  const most = state.list === list ? state.most : PART;
  return { most, more: () => setState({ list, most: Math.min(most + PART, 1000) }) };
}

/** The end of a list that goes on. */
function More({ shown, all, onPress, busy }: { shown: number; all: number; onPress: () => void; busy: boolean }) {
  const room = shown < 1000;
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2 py-4" role="status">
      <span className="text-[17px] font-[560]">
        {shown} of {all} shown
      </span>
      {room ? (
        <button className="btn btn-line" onClick={onPress} disabled={busy}>
          {busy ? "Fetching …" : `Show ${Math.min(PART, all - shown)} more`}
        </button>
      ) : (
        <span className="text-soft">Find what you look for by tag, vehicle or customer.</span>
      )}
    </div>
  );
}

/** Enter in the search field opens the only job that is found, once the list is of what was typed. */
function useOpenSingle(lines: JobLine[] | undefined, current: boolean) {
  const { state, key } = useLocation() as { state: { open?: boolean } | null; key: string };
  const go = useNavigate();
  // One that is named so is meant, though the words of others have it too.
  const named = lines?.filter((l) => !l.found);
  const only = named?.length === 1 ? named[0]!.id : lines?.length === 1 ? lines[0]!.id : undefined;
  useEffect(() => {
    if (state?.open && current && only) void go(`/jobs/${only}`, { replace: false });
  }, [state, key, current, only, go]);
}

type NextProps = { first: JobLine | undefined; now: number; hands: number; clock: number };

/** The biggest words on the screen: which battery needs hands, and when. */
function Next({ first, now, hands, clock }: NextProps) {
  if (!first) return <h1 className="tight text-[40px] leading-none font-[780]">Nothing in hand</h1>;
  const due = first.wait.at ? new Date(first.wait.at).getTime() - now : 0;
  // What waits for the clock is called by what will be wanted then.
  const word = (first.wait.at && first.moments[0]?.call) || first.wait.word;
  return (
    <div className="min-w-0">
      <p className="cap">Next needs hands</p>
      <h1 className="flex flex-wrap items-baseline gap-x-3 leading-none">
        <span className="tight text-[44px] font-[780] whitespace-nowrap">{first.wait.at ? span(due) : "Now"}</span>
        <Link
          to={`/jobs/${first.id}`}
          data-first
          className="inline-block min-w-0 py-2.5 text-[20px] leading-tight font-[560] break-words underline decoration-line underline-offset-4"
        >
          {first.tag} · {first.vehicle} · {word.charAt(0).toLowerCase() + word.slice(1)}
        </Link>
      </h1>
      <p className="text-soft">
        {hands === 1 ? "1 battery waits for hands" : `${hands} batteries wait for hands`}, {clock} for the clock
      </p>
    </div>
  );
}

function Listing(props: { closed: boolean; find: string; n: number; stale: boolean }) {
  const { find, n } = props;
  return (
    <div role="status">
      <p className="cap">{props.closed ? "Handed over" : "In hand"}</p>
      <h1 className="tight text-[34px] leading-tight font-[780] break-words">
        {props.stale ? "Looking" : `${n} ${n === 1 ? "job" : "jobs"}`}
        {find && (
          <>
            {" "}
            {props.stale ? "for" : "with"} “{find}”
          </>
        )}
      </h1>
    </div>
  );
}

const kindOf = (l: JobLine): SignKind => {
  if (["rest", "warm", "parts", "jump", "charge"].includes(l.wait.for)) return "wait";
  return l.level === "note" ? "act" : l.level;
};

function Row({ line: l, now, closed, width }: { line: JobLine; now: number; closed: boolean; width: number }) {
  const narrow = useNarrow();
  const kind = closed ? l.level : kindOf(l);
  const since = closed || l.wait.at ? "" : waited(now - new Date(l.since).getTime());
  return (
    <Link
      to={`/jobs/${l.id}`}
      className="grid min-h-[54px] min-w-0 flex-1 grid-cols-1 items-center gap-x-4 py-1.5 hover:bg-hush md:grid-cols-[min(42%,380px)_minmax(0,1fr)] md:py-0"
    >
      <span className="flex min-w-0 items-center gap-2.5 md:py-1.5">
        {!closed && (
          <span className="hidden md:block">
            <Sign kind={kind} />
          </span>
        )}
        <span className="min-w-0 flex-1 leading-snug">
          <span className="flex min-w-0 items-baseline gap-1.5">
            <b className="tight max-w-[60%] shrink-0 truncate text-[17px] font-[760]">{l.tag}</b>
            <span className="min-w-0 truncate font-[560]">{l.vehicle}</span>
            {since && <span className="ml-auto shrink-0 pl-2 text-[13.5px] text-soft max-md:hidden">{since}</span>}
          </span>
          <span className={`block truncate text-[13.5px] text-soft ${closed || l.found ? "" : "max-md:hidden"}`}>
            {l.found ?? (closed ? l.customer : [l.by, l.because].filter(Boolean).join(" · "))}
          </span>
        </span>
      </span>
      {closed ? (
        <span className="flex min-w-0 items-center gap-2.5">
          <Sign kind={kind} />
          <span className={`line-clamp-2 min-w-0 leading-tight font-[560] ${tone[kind]}`}>{l.headline}</span>
          <span className="ml-auto shrink-0 text-[13.5px] text-soft">{l.closed_at && onDay(l.closed_at)}</span>
        </span>
      ) : (
        <>
          {narrow ? (
            <span className="flex items-center gap-2">
              <Sign kind={kind} />
              <span className={`min-w-0 truncate font-[600] ${tone[kind]}`}>{l.wait.word}</span>
              <span className="ml-auto shrink-0 text-[14px]">
                {l.wait.at ? (
                  <b className="text-[16px] font-[700]">{span(new Date(l.wait.at).getTime() - now)}</b>
                ) : (
                  <span className="text-soft">{since}</span>
                )}
              </span>
            </span>
          ) : (
            <Track line={l} now={now} kind={kind} width={width} />
          )}
        </>
      )}
    </Link>
  );
}
