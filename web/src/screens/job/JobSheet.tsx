import { useCallback, useEffect, useState } from "react";
import { useParams } from "react-router";
import type { Judgement, ReadingView, Sheet, StationView } from "../../lib/api";
import { useKeys } from "../../lib/keys";
import { useRules, useSheet } from "../../lib/queries";
import { CautionLine } from "../../parts/CautionLine";
import { Failure, Loading } from "../../parts/Failure";
import { Ledger } from "../../parts/Ledger";
import { Sign } from "../../parts/Sign";
import { Arrive } from "./Arrive";
import { Decide } from "./Decide";
import { LabelPlate } from "./LabelPlate";
import { PrintSheet } from "./PrintSheet";
import { Station } from "./Station";
import { StationForm, type Mode } from "./StationForm";
import { TakeAway } from "./TakeAway";
import { useEntry } from "./useEntry";
import { NextStep, PhoneVerdict, Verdict } from "./Verdict";

export function JobSheet() {
  const { id = "" } = useParams();
  const sheet = useSheet(id);
  if (sheet.isPending) return <Loading what="the job sheet" />;
  if (sheet.isError) return <Failure error={sheet.error} retry={() => void sheet.refetch()} />;
  // A sheet starts afresh for each job.
  return <Open key={id} sheet={sheet.data} />;
}

/** The last reading taken at a station, if there is one. */
const lastOf = (sheet: Sheet, station: StationView): ReadingView | undefined => {
  const id = station.taken.at(-1);
  return sheet.readings.find((r) => r.id === id);
};

/** How a station opens: a figure that stands is shown, unless the next step is to take it once more. */
const modeOf = (station: StationView): Mode =>
  station.taken.length > 0 && station.state !== "again" ? "show" : "again";

function Open({ sheet }: { sheet: Sheet }) {
  const { stations } = sheet;
  const stationAt = (code: string) => stations.find((s) => s.code === code) ?? stations[0]!;
  const [code, setCode] = useState(sheet.at);
  const at = stationAt(code);
  const [mode, setMode] = useState<Mode>(() => modeOf(at));
  const rules = useRules();
  const go = (to: string, from: Sheet = sheet) => {
    setCode(to);
    const next = from.stations.find((s) => s.code === to);
    if (next) setMode(modeOf(next));
  };
  useKeys(
    useCallback(
      (key) => {
        const station = stations[Number(key) - 1];
        if (!station) return;
        setCode(station.code);
        setMode(modeOf(station));
      },
      [stations],
    ),
  );
  useEffect(() => {
    document.title = `${sheet.job.battery.tag} ${sheet.job.vehicle.name ?? ""} · Grapnel`;
    return () => {
      document.title = "Grapnel";
    };
  }, [sheet.job]);
  const last = lastOf(sheet, at);
  const entering = mode !== "show" && !(at.advice.closed && mode !== "correct");
  const entry = useEntry(sheet, at, mode === "correct" ? last?.id : undefined, entering, (saved) =>
    go(after(saved, at.code), saved),
  );
  const shown: Judgement = entry.preview ?? sheet;
  const deciding = at.code === "decide";
  return (
    <>
      <div className="screen-only md:grid md:min-h-[calc(100vh-56px-var(--strip-h))] md:grid-cols-[150px_minmax(0,1fr)] wide:grid-cols-[150px_minmax(0,1fr)_372px]">
        <nav aria-label="Stations" className="hidden border-r border-line py-3.5 md:block">
          <div className="sticky top-[70px]">
            {stations.map((s, i) => (
              <RailStation key={s.code} n={i + 1} station={s} open={s.code === at.code} onOpen={() => go(s.code)} />
            ))}
            <div className="mt-4 border-t border-line pt-2">
              <TakeAway id={sheet.job.id} />
            </div>
          </div>
        </nav>
        <div className="min-w-0 px-4 pt-3 pb-5 md:px-6.5 md:pt-4">
          <Head sheet={sheet} />
          {!deciding && <PhoneVerdict shown={shown} />}
          {stations.map((s, i) => (
            <Station
              key={s.code}
              n={i + 1}
              station={s}
              open={s.code === at.code}
              last={s.kind === s.code ? lastOf(sheet, s) : undefined}
              onOpen={() => go(s.code)}
            >
              {s.code === "arrive" ? (
                <Arrive n={i + 1} sheet={sheet} station={s} onDone={(to) => go(to.at, to)} />
              ) : s.code === "decide" ? (
                <Decide n={i + 1} sheet={sheet} station={s} go={go} />
              ) : (
                <StationForm
                  sheet={sheet}
                  n={i + 1}
                  station={s}
                  last={last}
                  mode={mode}
                  setMode={setMode}
                  entry={entry}
                />
              )}
            </Station>
          ))}
        </div>
        <aside className="border-line bg-card px-4 py-4 md:col-start-2 md:border-t md:px-6.5 wide:col-start-3 wide:row-start-1 wide:border-t-0 wide:border-l wide:px-5">
          <div className="wide:sticky wide:top-[72px] wide:max-h-[calc(100vh-72px-var(--strip-h)-8px)] wide:overflow-y-auto">
            {deciding ? <p className="cap">Why</p> : <Verdict shown={shown} preview={entry.preview !== undefined} />}
            <div className="mt-3">
              <Ledger findings={shown.findings} readings={sheet.readings} book={rules.data?.book} />
            </div>
            {!deciding && <NextStep shown={shown} at={at} go={go} closed={sheet.job.closed_at !== undefined} />}
            {!deciding && shown.cautions.length > 0 && (
              <div className="mt-3 border-t border-line pt-1">
                {shown.cautions.map((c) => (
                  <CautionLine key={c.code} caution={c} />
                ))}
              </div>
            )}
          </div>
        </aside>
      </div>
      <PrintSheet sheet={sheet} />
    </>
  );
}

/** Where the sheet goes on after a save: to the station that follows. */
function after(sheet: Sheet, code: string): string {
  const i = sheet.stations.findIndex((s) => s.code === code);
  return sheet.stations[i + 1]?.code ?? sheet.at;
}

function RailStation(props: { n: number; station: StationView; open: boolean; onOpen: () => void }) {
  const { station, open } = props;
  const look = open
    ? "bg-card font-[700] shadow-[inset_4px_0_var(--copper)]"
    : station.summary
      ? "font-[560] hover:bg-hush"
      : "font-[560] text-soft hover:bg-hush";
  return (
    <button
      onClick={props.onOpen}
      aria-current={open ? "step" : undefined}
      className={`grid h-12 w-full grid-cols-[22px_1fr_18px] items-center pr-3 pl-4 text-left text-[15px] ${look}`}
    >
      <span className="text-[13px] font-[600] text-soft">{props.n}</span>
      {station.name}
      {station.summary && station.level !== "note" && <Sign kind={station.level} />}
    </button>
  );
}

function Head({ sheet }: { sheet: Sheet }) {
  const { job } = sheet;
  const said = job.note ? `“${job.note}”` : "";
  return (
    <div className="flex flex-wrap items-start gap-x-6 gap-y-2.5 border-b border-line pb-3">
      <div className="flex min-w-0 flex-1 basis-[230px] flex-wrap items-baseline gap-x-3 md:block">
        <h1 className="tight text-[26px] leading-none font-extrabold md:text-[34px]">{job.battery.tag}</h1>
        <p className="font-[600] md:mt-1.5">
          {job.vehicle.name}
          {(said || job.customer) && (
            <span className="hidden font-[450] text-soft md:inline">
              {" "}
              · {[said, job.customer].filter(Boolean).join(" · ")}
            </span>
          )}
        </p>
      </div>
      <div className="hidden md:block">
        <LabelPlate sheet={sheet} />
      </div>
    </div>
  );
}
