import { Download, Printer } from "lucide-react";
import { useCallback, useEffect, useState } from "react";
import { useParams } from "react-router";
import type { Choices, Judgement, ReadingView, Sheet } from "../../lib/api";
import { useKeys } from "../../lib/keys";
import { useChoices, useRules, useSheet } from "../../lib/queries";
import { CautionLine } from "../../parts/CautionLine";
import { Failure, Loading } from "../../parts/Failure";
import { Ledger } from "../../parts/Ledger";
import { Sign, tone, type SignKind } from "../../parts/Sign";
import { Arrive, arriveSummary } from "./Arrive";
import { Decide } from "./Decide";
import { LabelPlate } from "./LabelPlate";
import { LoadTest } from "./LoadTest";
import { PrintSheet } from "./PrintSheet";
import { RestVolts } from "./RestVolts";
import { Station, type Summary } from "./Station";

export const stations = ["Arrive", "Rest volts", "Load test", "Decide"] as const;
export type StationName = (typeof stations)[number];

export function JobSheet() {
  const { id = "" } = useParams();
  const sheet = useSheet(id);
  if (sheet.isPending) return <Loading what="the job sheet" />;
  if (sheet.isError) return <Failure error={sheet.error} retry={() => void sheet.refetch()} />;
  // A sheet starts afresh for each job.
  return <Open key={id} sheet={sheet.data} />;
}

/** The readings that no other corrects, in the order they were taken. */
export function inEffect(sheet: Sheet): ReadingView[] {
  const live = sheet.readings.filter((r) => !r.replaced_by);
  const root = (r: ReadingView): ReadingView => {
    const old = sheet.readings.find((o) => o.id === r.replaces);
    return old ? root(old) : r;
  };
  return live.sort((a, b) => sheet.readings.indexOf(root(a)) - sheet.readings.indexOf(root(b)));
}

/** Where the work goes on: the station of the next step. */
function nextStation(sheet: Sheet): StationName {
  const next = sheet.assessment.next[0]?.test;
  if (next === "rest_voltage" || next === "rest") return "Rest volts";
  if (next === "load_test") return "Load test";
  return "Decide";
}

function Open({ sheet }: { sheet: Sheet }) {
  const [at, setAt] = useState<StationName>(() => nextStation(sheet));
  const [preview, setPreview] = useState<Judgement>();
  const rules = useRules();
  const go = useCallback((name: StationName) => {
    setPreview(undefined);
    setAt(name);
  }, []);
  useKeys(
    useCallback(
      (key) => {
        const name = stations[Number(key) - 1];
        if (name) go(name);
      },
      [go],
    ),
  );
  useEffect(() => {
    document.title = `${sheet.job.battery.tag} ${sheet.job.vehicle.name ?? ""} · Grapnel`;
    return () => {
      document.title = "Grapnel";
    };
  }, [sheet.job]);
  const shown: Judgement = preview ?? sheet;
  const live = inEffect(sheet);
  const choices = useChoices();
  const summaries = summarise(sheet, live, choices.data);
  return (
    <>
      <div className="screen-only md:grid md:min-h-[calc(100vh-56px-var(--strip-h))] md:grid-cols-[150px_minmax(0,1fr)] wide:grid-cols-[150px_minmax(0,1fr)_372px]">
        <nav aria-label="Stations" className="hidden border-r border-line py-3.5 md:block">
          <div className="sticky top-[70px]">
            {stations.map((name, i) => (
              <button
                key={name}
                onClick={() => go(name)}
                aria-current={at === name ? "step" : undefined}
                className={`grid h-12 w-full grid-cols-[22px_1fr_18px] items-center pr-3 pl-4 text-left text-[15px] ${
                  at === name
                    ? "bg-card font-[700] shadow-[inset_4px_0_var(--copper)]"
                    : summaries[name]
                      ? "font-[560] hover:bg-hush"
                      : "font-[560] text-soft hover:bg-hush"
                }`}
              >
                <span className="text-[13px] font-[600] text-soft">{i + 1}</span>
                {name}
                {summaries[name] && summaries[name].kind !== "note" && <Sign kind={summaries[name].kind} />}
              </button>
            ))}
            <div className="mt-4 border-t border-line pt-2">
              <TakeAway id={sheet.job.id} />
            </div>
          </div>
        </nav>
        <div className="min-w-0 px-4 pt-3 pb-5 md:px-6.5 md:pt-4">
          <Head sheet={sheet} />
          {at !== "Decide" && <PhoneVerdict shown={shown} />}
          {stations.map((name, i) => (
            <Station
              key={name}
              n={i + 1}
              name={name}
              open={at === name}
              summary={summaries[name]}
              onOpen={() => go(name)}
            >
              {name === "Arrive" && <Arrive sheet={sheet} onDone={() => go(nextStation(sheet))} />}
              {name === "Rest volts" && (
                <RestVolts sheet={sheet} live={live} onPreview={setPreview} preview={preview} go={go} />
              )}
              {name === "Load test" && (
                <LoadTest sheet={sheet} live={live} onPreview={setPreview} preview={preview} go={go} />
              )}
              {name === "Decide" && <Decide sheet={sheet} live={live} go={go} />}
            </Station>
          ))}
        </div>
        <aside className="border-line bg-card px-4 py-4 md:col-start-2 md:border-t md:px-6.5 wide:col-start-3 wide:row-start-1 wide:border-t-0 wide:border-l wide:px-5">
          <div className="wide:sticky wide:top-[72px] wide:max-h-[calc(100vh-72px-var(--strip-h)-8px)] wide:overflow-y-auto">
            {at === "Decide" ? <p className="cap">Why</p> : <Verdict shown={shown} preview={preview !== undefined} />}
            <div className="mt-3">
              <Ledger findings={shown.assessment.findings} inEffect={live} book={rules.data?.book} />
            </div>
            {at !== "Decide" && <NextStep sheet={shown} at={at} go={go} closed={sheet.job.closed_at !== undefined} />}
            {at !== "Decide" && shown.cautions.length > 0 && (
              <div className="mt-3 border-t border-line pt-1">
                {shown.cautions.map((c) => (
                  <CautionLine key={c.code} caution={c} />
                ))}
              </div>
            )}
          </div>
        </aside>
      </div>
      <PrintSheet sheet={sheet} live={live} />
    </>
  );
}

function summarise(
  sheet: Sheet,
  live: ReadingView[],
  choices: Choices | undefined,
): Partial<Record<StationName, Summary>> {
  const out: Partial<Record<StationName, Summary>> = { Arrive: arriveSummary(sheet, choices) };
  const gauge = (q: string) => sheet.gauges.find((g) => g.quantity === q);
  const last = (kind: string) => live.filter((r) => r.reading.kind === kind).at(-1);
  const charge = gauge("charge");
  const rest = last("rest_voltage");
  if (rest && charge) {
    const label = `${rest.reading.volts?.toFixed(2)} V, ${charge.label}`;
    out["Rest volts"] = { kind: charge.level, text: label, gauge: charge, by: rest };
  }
  const load = gauge("load_volts");
  const tested = last("load_test");
  if (tested && load?.band) out["Load test"] = { kind: load.level, text: load.label, gauge: load, by: tested };
  if (sheet.job.closed_at) out.Decide = { kind: sheet.level, text: `Handed over: ${sheet.assessment.headline}` };
  return out;
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

/** The sheet on paper, and as a file. */
export function TakeAway({ id }: { id: string }) {
  return (
    <>
      <button className="btn btn-quiet justify-start! md:w-full" onClick={() => window.print()}>
        <Printer size={18} aria-hidden /> Print
      </button>
      <a className="btn btn-quiet justify-start! md:w-full" href={`/api/jobs/${id}/case`} download>
        <Download size={18} aria-hidden /> Case file
      </a>
    </>
  );
}

const verdictKind = (shown: Judgement): SignKind => shown.level;

/** On a phone the verdict stands on top in one line. */
function PhoneVerdict({ shown }: { shown: Judgement }) {
  const kind = verdictKind(shown);
  return (
    <p className={`mt-3 flex items-baseline gap-2.5 text-[18px] leading-tight font-[760] md:hidden ${tone[kind]}`}>
      {kind !== "note" && (
        <span className="translate-y-0.5">
          <Sign kind={kind} />
        </span>
      )}
      {shown.assessment.headline}
    </p>
  );
}

function Verdict({ shown, preview }: { shown: Judgement; preview: boolean }) {
  const kind = verdictKind(shown);
  return (
    <div aria-live="polite">
      <p className="cap">{preview ? "If this is saved" : "So far"}</p>
      <p
        className={`mt-1.5 flex items-baseline gap-2.5 text-[25px] leading-[1.14] font-[780] ${tone[kind]}`}
        style={{ fontStretch: "92%" }}
      >
        {kind !== "note" && (
          <span className="translate-y-[1px]">
            <Sign kind={kind} size={19} />
          </span>
        )}
        <span data-testid="headline">{shown.assessment.headline}</span>
      </p>
      {shown.assessment.because && <p className="mt-1 text-[14.5px] text-soft">{shown.assessment.because}</p>}
    </div>
  );
}

const stationOf: Record<string, StationName> = {
  rest_voltage: "Rest volts",
  rest: "Rest volts",
  load_test: "Load test",
  thaw: "Decide",
  charge: "Decide",
  replace: "Decide",
  hand_over: "Decide",
};

function NextStep(props: { sheet: Judgement; at: StationName; go: (s: StationName) => void; closed: boolean }) {
  const step = props.sheet.assessment.next[0];
  if (!step || props.closed) return null;
  const station = stationOf[step.test];
  return (
    <div className="mt-3 grid grid-cols-[1fr_auto] items-center gap-3 rounded-[5px] border-[1.5px] border-ink bg-paper px-3.5 py-3">
      <div>
        <p className="cap">Next</p>
        <p className="text-[17px] font-[720]">{step.do}</p>
        <p className="text-[13.5px] leading-snug text-soft">
          {minutes(step.minutes)} · {step.why}
        </p>
      </div>
      {station && station !== props.at && (
        <button className="btn px-4!" onClick={() => props.go(station)}>
          Go
        </button>
      )}
    </div>
  );
}

/** A span of work or waiting; long ones only to the half hour, since nobody knows better. */
export function minutes(m: number): string {
  if (m < 100) return `${m} min`;
  const halves = Math.round(m / 30);
  return `about ${Math.floor(halves / 2)}${halves % 2 ? "½" : ""} h`;
}
