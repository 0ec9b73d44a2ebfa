import { Upload } from "lucide-react";
import { useRef } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { JobLine } from "../../lib/api";
import { useImport } from "../../lib/cases";
import { useJobs } from "../../lib/queries";
import { onDay, span, useNow } from "../../lib/time";
import { Failure, Loading } from "../../parts/Failure";
import { Sign, tone, type SignKind } from "../../parts/Sign";
import { Track, TrackRuler } from "./Track";

/** Everything in hand, by when it needs hands. */
export function Floor() {
  const [params, setParams] = useSearchParams();
  const closed = params.get("show") === "closed";
  const find = params.get("find") ?? "";
  const jobs = useJobs(closed, find);
  const now = useNow(10_000);
  if (jobs.isPending) return <Loading what="the floor" />;
  if (jobs.isError) return <Failure error={jobs.error} retry={() => void jobs.refetch()} />;
  const lines = jobs.data.jobs;
  return (
    <div className="mx-auto max-w-[1500px] px-4 py-4 md:px-6">
      <div className="mb-3 flex flex-wrap items-end gap-x-6 gap-y-3">
        {closed || find ? <Listing closed={closed} find={find} n={lines.length} /> : <Next lines={lines} now={now} />}
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
      {lines.length === 0 ? (
        <Empty closed={closed} find={find} />
      ) : (
        <>
          {!closed && <TrackRuler now={now} />}
          <ul className="border-b border-line">
            {lines.map((l) => (
              <li key={l.id} className="border-t border-line">
                <Row line={l} now={now} closed={closed} />
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

/** The biggest words on the screen: which battery needs hands, and when. */
function Next({ lines, now }: { lines: JobLine[]; now: number }) {
  const hands = lines.filter((l) => !l.wait.at);
  const first = lines[0];
  if (!first) return <h1 className="tight text-[40px] leading-none font-[780]">Nothing in hand</h1>;
  const due = first.wait.at ? new Date(first.wait.at).getTime() - now : 0;
  return (
    <div className="min-w-0">
      <p className="cap">Next needs hands</p>
      <h1 className="flex flex-wrap items-baseline gap-x-3 leading-none">
        <span className="tight text-[44px] font-[780] whitespace-nowrap">{first.wait.at ? span(due) : "Now"}</span>
        <Link
          to={`/jobs/${first.id}`}
          className="text-[20px] leading-tight font-[560] underline decoration-line underline-offset-4"
        >
          {first.tag} · {first.vehicle} · {first.wait.word.toLowerCase()}
        </Link>
      </h1>
      <p className="mt-1 text-soft">
        {hands.length === 1 ? "1 battery waits for hands" : `${hands.length} batteries wait for hands`},{" "}
        {lines.length - hands.length} for the clock
      </p>
    </div>
  );
}

function Listing({ closed, find, n }: { closed: boolean; find: string; n: number }) {
  return (
    <div>
      <p className="cap">{closed ? "Handed over" : "In hand"}</p>
      <h1 className="tight text-[34px] leading-tight font-[780]">
        {n} {n === 1 ? "job" : "jobs"}
        {find && <> with “{find}”</>}
      </h1>
    </div>
  );
}

const kindOf = (l: JobLine): SignKind => (l.wait.for === "rest" ? "wait" : l.level === "note" ? "act" : l.level);

function Row({ line: l, now, closed }: { line: JobLine; now: number; closed: boolean }) {
  const kind = closed ? l.level : kindOf(l);
  return (
    <Link
      to={`/jobs/${l.id}`}
      className="grid min-h-[52px] grid-cols-1 items-center gap-x-4 py-1.5 hover:bg-hush md:grid-cols-[284px_minmax(0,1fr)] md:py-0"
    >
      <span className="flex min-w-0 items-center gap-2.5 md:py-2">
        {!closed && (
          <span className="hidden md:block">
            <Sign kind={kind} />
          </span>
        )}
        <span className="min-w-0 truncate">
          <b className="tight text-[17px] font-[760]">{l.tag}</b> <span className="font-[560]">{l.vehicle}</span>
          {closed && l.customer && <span className="block truncate text-[13.5px] text-soft">{l.customer}</span>}
        </span>
      </span>
      {closed ? (
        <span className="flex items-center gap-2.5">
          <Sign kind={kind} />
          <span className={`truncate font-[560] ${tone[kind]}`}>{l.headline}</span>
          <span className="ml-auto shrink-0 text-[13.5px] text-soft">{l.closed_at && onDay(l.closed_at)}</span>
        </span>
      ) : (
        <>
          <span className="hidden md:block">
            <Track line={l} now={now} kind={kind} />
          </span>
          <span className="flex items-center gap-2 md:hidden">
            <Sign kind={kind} />
            <span className={`truncate font-[600] ${tone[kind]}`}>{l.wait.word}</span>
            {l.wait.at && (
              <span className="ml-auto shrink-0 font-[700]">{span(new Date(l.wait.at).getTime() - now)}</span>
            )}
          </span>
        </>
      )}
    </Link>
  );
}

function Empty({ closed, find }: { closed: boolean; find: string }) {
  if (find)
    return (
      <p className="border-t border-line py-8">
        No {closed ? "closed" : "open"} job has “{find}” in its tag, vehicle or customer.{" "}
        <Link
          className="underline"
          to={{ search: `?${new URLSearchParams({ find, ...(closed ? {} : { show: "closed" }) })}` }}
        >
          Look among the {closed ? "open" : "closed"} ones
        </Link>
        .
      </p>
    );
  return (
    <p className="border-t border-line py-8 text-[17px]">
      {closed
        ? "Nothing has been handed over yet."
        : "The bench is clear. A new job starts with the vehicle and the complaint."}
    </p>
  );
}

function ImportCase() {
  const file = useRef<HTMLInputElement>(null);
  const go = useNavigate();
  const load = useImport((id) => void go(`/jobs/${id}`));
  return (
    <div>
      <input
        ref={file}
        type="file"
        accept=".json,application/json"
        className="sr-only"
        tabIndex={-1}
        aria-label="Case file to open as a new job"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          if (chosen) load.mutate(chosen);
          e.target.value = "";
        }}
      />
      <button className="btn btn-line" onClick={() => file.current?.click()} disabled={load.isPending}>
        <Upload size={18} aria-hidden /> {load.isPending ? "Reading …" : "Import a case"}
      </button>
      {load.error && (
        <div
          role="alert"
          className="fixed right-4 bottom-[calc(var(--strip-h)+16px)] left-4 z-30 max-w-[560px] rounded-sm border-[1.5px] border-oxide bg-card p-4 md:left-auto"
        >
          <p className="flex items-center gap-2 font-[700] text-oxide">
            <Sign kind="stop" bare /> The file was not taken. Nothing was saved.
          </p>
          <ul className="mt-1 max-h-48 list-disc overflow-auto pl-5 break-words">
            {load.error.lines.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          <button className="btn btn-line mt-3" onClick={() => load.reset()}>
            Close
          </button>
        </div>
      )}
    </div>
  );
}
