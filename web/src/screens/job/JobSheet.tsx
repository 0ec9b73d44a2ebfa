import { useCallback, useEffect, useRef, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, Refused, type Judgement, type ReadingView, type Sheet, type StationView } from "../../lib/api";
import { useFirst } from "../../lib/first";
import { useKeys } from "../../lib/keys";
import { entered } from "../../lib/load";
import { say } from "../../lib/notices";
import { useNarrow } from "../../lib/pointer";
import { useJobChange, useRules, useSheet } from "../../lib/queries";
import { withdraw } from "../../lib/withdraw";
import { Failure, Loading } from "../../parts/Failure";
import { Ledger } from "../../parts/Ledger";
import { Nowhere } from "../../parts/Nowhere";
import { stroke } from "../../parts/NumberEntry";
import { Arrive } from "./Arrive";
import { Beside } from "./Beside";
import { Comeback } from "./Comeback";
import { Decide } from "./Decide";
import { GuidesRunning } from "./Guides";
import { HandOver } from "./HandOver";
import { Meanwhile } from "./Meanwhile";
import { NextTests } from "./NextTests";
import { Otherwise } from "./Otherwise";
import { ProofLine, ProofList } from "./Outcome";
import { PrintSheet } from "./PrintSheet";
import { Rail } from "./Rail";
import { kindOf } from "./entry";
import { useMay } from "./HandedOver";
import { StationForm, type Mode } from "./StationForm";
import { Suspects } from "./Suspects";
import { TakeAway } from "./TakeAway";
import { useEntry, type Outcome } from "./useEntry";
import { Levers } from "./WeekFlow";
import { NextStep, Verdict, VerdictLine } from "./Verdict";

export function JobSheet() {
  const { id = "" } = useParams();
  const sheet = useSheet(id);
  const gone = sheet.error instanceof Refused && (sheet.error.status === 404 || sheet.error.status === 422);
  if (gone)
    return <Nowhere what="There is no job here." more="It may belong to another workshop, or the address is wrong." />;
  if (sheet.data) return <Open key={id} sheet={sheet.data} />; // a sheet starts afresh for each job
  if (sheet.isError) return <Failure error={sheet.error} retry={() => void sheet.refetch()} />;
  return <Loading what="the job sheet" />;
}

/** The last reading taken at a station, if there is one. */
const lastOf = (sheet: Sheet, station: StationView): ReadingView | undefined => {
  const id = station.taken.at(-1);
  return sheet.readings.find((r) => r.id === id);
};

/**
 * How a station opens: a figure that stands is shown, unless the next step is to
 * take it once more, or to say what was left unsaid of it.
 */
function modeOf(sheet: Sheet, station: StationView): Mode {
  if (station.taken.length === 0) return "again";
  if (station.state !== "again") return "show";
  return sheet.next[0]?.test === "say_rest" ? "correct" : "again";
}

/** Whether a station takes something now: where a hazard stands, or the job is handed over, a correction alone. */
const takes = (at: StationView, take: boolean, mode: Mode) =>
  mode === "correct" || (mode === "again" && take && !at.advice.closed);

/** The station in the address, and how it stands open. */
function useStation(sheet: Sheet) {
  const [params, setParams] = useSearchParams();
  const [landed] = useState(sheet.at);
  const named = params.get("at") ?? landed;
  const at =
    sheet.stations.find((s) => s.code === named) ??
    sheet.stations.find((s) => s.kinds.some((k) => k.code === named)) ??
    sheet.stations[0]!;
  const [state, setState] = useState(() => ({ code: at.code, mode: modeOf(sheet, at) }));
  const now = state.code === at.code ? state : { code: at.code, mode: modeOf(sheet, at) };
  if (now !== state) setState(now);
  useEffect(() => {
    // What the next save changes must not move who is entering something.
    if (!params.has("at")) setParams({ at: landed }, { replace: true });
  }, [params, landed, setParams]);
  const go = useCallback(
    (code: string, from: Sheet = sheet) => {
      const next = from.stations.find((s) => s.code === code);
      if (!next) return;
      setState({ code, mode: modeOf(from, next) });
      // Where one is now is in the address: this may be called long after it was made.
      setParams({ at: code }, { replace: new URLSearchParams(window.location.search).get("at") === code });
      window.scrollTo(0, 0);
    },
    [sheet, setParams],
  );
  const setMode = (mode: Mode) => setState({ code: at.code, mode });
  return { at, mode: now.mode, setMode, go };
}

function Open({ sheet }: { sheet: Sheet }) {
  const { stations } = sheet;
  const { at, mode, setMode, go } = useStation(sheet);
  const rules = useRules();
  const main = useRef<HTMLDivElement>(null);
  const last = lastOf(sheet, at);
  const may = useMay(sheet);
  const entering = takes(at, may.take, mode);
  const here = useRef(at.code);
  useEffect(() => {
    here.current = at.code;
  });
  const undo = useUndo(sheet.job.id, go);
  const entry = useEntry(sheet, at, mode === "correct" ? last : undefined, entering, (outcome) => {
    entered();
    if (!outcome.sheet) {
      window.scrollTo(0, 0); // to where it says that it waits
      return say({ text: "Kept on this device. It is sent when the line is back.", kind: "wait" });
    }
    undo(outcome, at, mode === "correct" ? last : undefined);
    // Whoever went elsewhere while it was saved is not called away from there.
    // A week is told to see what it comes to: one stays where that is drawn.
    const drawn = outcome.sheet.stations.some((s) => s.code === at.code && s.flow);
    if (here.current === at.code) go(drawn ? at.code : outcome.sheet.at, outcome.sheet);
  });
  useFirst(main, `${at.code} ${mode} ${at.taken.length}`);
  useDigits(stations, at, entering ? entry : undefined, go);
  useEffect(() => {
    document.title = `${sheet.job.battery.tag} ${sheet.job.vehicle.name ?? ""} · Grapnel`;
    return () => {
      document.title = "Grapnel";
    };
  }, [sheet.job]);
  const shown: Judgement = entry.preview ?? sheet;
  const deciding = at.code === "decide" || at.code === "handover";
  const flow = shown.stations.find((s) => s.code === at.code)?.flow;
  const narrow = useNarrow();
  const n = stations.indexOf(at) + 1;
  return (
    <>
      <div className="screen-only flex flex-col md:grid md:min-h-[calc(100vh-56px-var(--strip-h))] md:grid-cols-[208px_minmax(0,1fr)] wide:grid-cols-[240px_minmax(0,1fr)_344px]">
        <Rail sheet={sheet} at={at} onOpen={go}>
          <TakeAway id={sheet.job.id} tag={sheet.job.battery.tag ?? ""} />
        </Rail>
        <div ref={main} className="min-w-0 px-4 pb-5 md:px-6 md:pt-3.5">
          <PhoneHead sheet={sheet} n={n} />
          {!deciding && <VerdictLine shown={shown} preview={entry.preview !== undefined} judging={entry.judging} />}
          <GuidesRunning sheet={sheet} />
          <Comeback sheet={sheet} />
          <Meanwhile sheet={sheet} />
          <section aria-label={at.name} className="py-1 max-md:pt-2">
            {at.code === "arrive" ? (
              <Arrive n={n} sheet={sheet} station={at} asking={entry} onDone={(to) => go(to.at, to)} />
            ) : at.code === "handover" ? (
              <HandOver n={n} sheet={sheet} station={at} go={go} />
            ) : deciding ? (
              <Decide n={n} sheet={sheet} station={at} go={go} />
            ) : (
              <StationForm
                sheet={sheet}
                n={n}
                station={at}
                last={last}
                mode={mode}
                entering={entering}
                setMode={setMode}
                entry={entry}
                goOn={() => go(sheet.at === at.code ? "decide" : sheet.at)}
                above={at.code === "prove" && sheet.outcome ? <ProofLine outcome={sheet.outcome} /> : undefined}
                below={at.code === "prove" ? <ProofList sheet={sheet} go={go} entering={entering} /> : undefined}
              />
            )}
          </section>
          <Beside sheet={sheet} />
        </div>
        <aside
          aria-label="Verdict and reasons"
          className="border-line bg-card px-4 py-4 md:col-start-2 md:border-t md:px-6 wide:col-start-3 wide:row-start-1 wide:border-t-0 wide:border-l wide:px-5"
        >
          <div className="wide:sticky wide:top-[72px] wide:max-h-[calc(100vh-72px-var(--strip-h)-8px)] wide:overflow-y-auto">
            {deciding ? (
              <p className="cap">Why</p>
            ) : (
              <Verdict shown={shown} preview={entry.preview !== undefined} judging={entry.judging} />
            )}
            {!deciding && <NextStep shown={shown} at={at} go={go} closed={sheet.job.closed_at !== undefined} />}
            {flow && !narrow && <Levers flow={flow} />}
            {!deciding && <Suspects shown={shown} />}
            {!deciding && (
              <NextTests
                shown={shown}
                at={at}
                go={go}
                closed={sheet.job.closed_at !== undefined}
                byStations={rules.data?.rules.test_order === "stations"}
              />
            )}
            <div className="mt-4">
              {!deciding && <p className="cap mb-1.5">Reasons</p>}
              <Ledger
                findings={shown.findings}
                readings={sheet.readings}
                book={rules.data?.book}
                entered={entry.preview?.entered?.text}
                about={deciding ? undefined : at.taken}
              />
            </div>
            <Otherwise shown={shown} book={rules.data?.book} />
            {deciding && <Suspects shown={shown} />}
          </div>
        </aside>
      </div>
      <PrintSheet sheet={sheet} />
    </>
  );
}

/** On a phone the battery stands in one line, with the way to the other stations. */
function PhoneHead({ sheet, n }: { sheet: Sheet; n: number }) {
  if (!useNarrow()) return null;
  return (
    <div className="flex items-center gap-x-3 border-b border-line">
      <h1 className="tight max-w-[50%] shrink-0 truncate text-[22px] leading-tight font-extrabold">
        {sheet.job.battery.tag}
      </h1>
      <p className="min-w-0 flex-1 truncate font-[560]">{sheet.job.vehicle.name}</p>
      <a
        href="#stations"
        className="flex h-12 min-w-12 shrink-0 items-center justify-end text-[14px] text-soft underline underline-offset-4"
      >
        {n} of {sheet.stations.length}
      </a>
    </div>
  );
}

/**
 * Digits go to the station they number, but only while nothing is being entered;
 * else they belong to the figure, wherever the focus is.
 */
function useDigits(
  stations: StationView[],
  at: StationView,
  entry: ReturnType<typeof useEntry> | undefined,
  go: (code: string) => void,
) {
  const big = entry && kindOf(at, entry.values)?.fields.find((f) => f.big);
  useKeys((key, event) => {
    if (entry && big && !entry.fresh && /^[\d.,]$/.test(key)) {
      event.preventDefault();
      entry.change({ [big.name]: stroke(entry.values[big.name] ?? "", key) });
      document.querySelector<HTMLElement>("[data-big]")?.focus();
      return;
    }
    const station = stations[Number(key) - 1];
    if (station) go(station.code);
  });
}

/** Says what was saved, and takes it back on a tap: what was typed stands in the entry again. */
function useUndo(jobID: string, go: (code: string, from: Sheet) => void) {
  const takeBack = useJobChange((o: { reading: string; was?: ReadingView | undefined }) =>
    o.was
      ? // A correction is taken back by what it corrected: it has to stand again.
        got(
          api.POST("/api/jobs/{id}/readings", {
            params: { path: { id: jobID } },
            body: { id: uuid(), reading: o.was.reading, replaces: o.reading },
          }),
        )
      : withdraw(jobID, o.reading),
  );
  return (outcome: Outcome, at: StationView, was: ReadingView | undefined) => {
    const text = outcome.sheet?.readings.find((r) => r.id === outcome.id)?.text ?? at.name;
    say({
      text: `Saved: ${text}`,
      kind: "ok",
      act: {
        word: "Undo",
        run: () =>
          void takeBack.mutateAsync({ reading: outcome.id, was }).then(
            (sheet) => {
              if (window.location.pathname === `/jobs/${jobID}`) go(at.code, sheet);
              say({ text: `Taken back: ${text}. It stays in the history.` });
            },
            (error: Error) => say({ text: `Not taken back. ${error.message}`, kind: "act" }),
          ),
      },
    });
  };
}
