import { useState } from "react";
import type { Gauge, Judgement, Reading, ReadingView, Sheet } from "../../lib/api";
import { useDraft } from "../../lib/draft";
import { useNarrow } from "../../lib/pointer";
import { usePerson } from "../../lib/queries";
import { fromScale, keep, readNumber, showTemp } from "../../lib/units";
import { CautionLine } from "../../parts/CautionLine";
import { PickOne } from "../../parts/Chips";
import { Dipstick } from "../../parts/Dipstick";
import { NumberEntry } from "../../parts/NumberEntry";
import { Sign } from "../../parts/Sign";
import { Countdown } from "./Countdown";
import { History } from "./History";
import type { StationName } from "./JobSheet";
import { StationTitle } from "./Station";
import { Taken } from "./Taken";
import { useStationReading } from "./useStationReading";

const empty = { method: "half_cca", amps: "", volts: "", temp: "" };

type Props = {
  sheet: Sheet;
  live: ReadingView[];
  preview: Judgement | undefined;
  onPreview: (j: Judgement | undefined) => void;
  go: (s: StationName) => void;
};

export function LoadTest({ sheet, live, preview, onPreview, go }: Props) {
  const last = live.filter((r) => r.reading.kind === "load_test").at(-1);
  const narrow = useNarrow();
  const again = sheet.assessment.next[0]?.test === "load_test";
  const [mode, setMode] = useState<"show" | "again" | "correct">(last && !again ? "show" : "again");
  const gauges = (preview ?? sheet).gauges;
  const gauge = gauges.find((g) => g.quantity === "load_volts")!;
  const strength = gauges.find((g) => g.quantity === "cranking")!;
  const words = (r: Reading) =>
    [
      sheet.load.methods.find((m) => m.code === r.method)?.word,
      r.amps !== undefined && `${r.amps} A`,
      r.seconds !== undefined && `${r.seconds} s`,
    ]
      .filter(Boolean)
      .join(", ");
  return (
    <>
      <StationTitle n={3} name="Load test" hint="volts at the end of the load" />
      {mode === "show" && last ? (
        <Taken
          figure={last.reading.volts_end!.toFixed(2)}
          unit="V"
          reading={last}
          said={words(last.reading)}
          onAgain={() => setMode("again")}
          onCorrect={() => setMode("correct")}
        />
      ) : sheet.level === "stop" && !last ? (
        <p
          className="flex items-baseline gap-3 border-l-4 border-oxide bg-card px-4 py-3 text-[18px] font-[680] text-oxide"
          role="alert"
        >
          <Sign kind="stop" bare />
          {sheet.load.fair_words}
        </p>
      ) : (
        <Entry
          sheet={sheet}
          replaces={mode === "correct" ? last : undefined}
          gauge={gauge}
          onPreview={onPreview}
          onSaved={() => {
            setMode("show");
            go("Decide");
          }}
          onCancel={last ? () => setMode("show") : undefined}
        />
      )}
      {(mode === "show" || narrow) && (
        <div className="mt-4">
          <Dipstick gauge={gauge} name="Volts under load" />
        </div>
      )}
      {mode === "show" && (strength.band || strength.level === "act") && (
        <div className="mt-5">
          <p className="cap mb-1">Strength, charge and temperature taken out</p>
          <Dipstick gauge={strength} name="Cranking strength" />
        </div>
      )}
      <History all={sheet.readings} kind="load_test" />
    </>
  );
}

function Fairness({ load }: { load: Sheet["load"] }) {
  if (load.fair === "yes")
    return (
      <p className="flex items-center gap-2.5 font-[600] text-verdigris">
        <Sign kind="ok" /> {load.fair_words}
      </p>
    );
  return (
    <p className="flex items-baseline gap-2.5 border-l-4 border-copper bg-card px-3.5 py-2.5 font-[600] text-copper">
      <span className="translate-y-0.5">
        <Sign kind="act" />
      </span>
      <span>
        {load.fair === "no" ? "Not a fair test now. " : ""}
        {load.fair_words}{" "}
        <span className="font-[450] text-soft">A reading taken all the same is kept, not judged.</span>
      </span>
    </p>
  );
}

function Entry(props: {
  sheet: Sheet;
  replaces: ReadingView | undefined;
  gauge: Gauge;
  onPreview: (j: Judgement | undefined) => void;
  onSaved: () => void;
  onCancel: (() => void) | undefined;
}) {
  const { sheet, replaces } = props;
  const person = usePerson();
  const narrow = useNarrow();
  const { load } = sheet;
  const { draft, change, clear } = useDraft(`${sheet.job.id}.load${replaces ? "." + replaces.id : ""}`, empty);
  const method = load.methods.find((m) => m.code === draft.method) ?? load.methods[0]!;
  const half = method.code === "half_cca";
  const starter = method.code === "starter";
  const volts = readNumber(draft.volts);
  const ampsText = draft.amps || (half && load.amps !== undefined ? String(load.amps) : "");
  const amps = readNumber(ampsText);
  const temp = readNumber(draft.temp);
  const reading: Reading | undefined =
    volts === undefined
      ? undefined
      : {
          kind: "load_test",
          method: method.code,
          volts_end: volts,
          seconds: method.seconds,
          ...(amps !== undefined && !starter ? { amps } : {}),
          ...(temp !== undefined ? { battery_c: fromScale(temp, person.temperature) } : {}),
        };
  const { send, saving, wrong, failed } = useStationReading(
    sheet,
    reading,
    replaces?.id,
    props.onPreview,
    draft.id,
    () => {
      clear();
      props.onSaved();
    },
  );
  const garbled = draft.volts !== "" && volts === undefined && !/^[-−+.,]$/.test(draft.volts);
  const error = garbled
    ? `“${draft.volts}” is not a number. Enter the volts as the meter shows them, as in 9.85.`
    : (wrong?.at("volts_end") ?? (wrong && !wrong.at("amps") && !wrong.at("battery_c") ? wrong.first : undefined));
  return (
    <div className="grid grid-cols-1 gap-2.5">
      {replaces && (
        <p className="text-soft">Correcting {replaces.reading.volts_end?.toFixed(2)} V. Both stay in the history.</p>
      )}
      <div>
        <Fairness load={load} />
        <CautionLine caution={sheet.load_caution} />
      </div>
      <div className="grid grid-cols-1 gap-x-7 gap-y-3 md:grid-cols-[288px_minmax(0,1fr)]">
        {half ? (
          <div className="md:row-span-2">
            <p className="cap">Set the load to</p>
            <p className="border-b-[3px] border-line text-[64px] leading-[1.05] font-[760] tracking-tight">
              {load.possible ? (
                <>
                  {load.amps}
                  <span className="unit">A</span>
                </>
              ) : (
                "?"
              )}
            </p>
            <p className="mt-1.5 text-[13.5px] leading-snug text-soft">
              {load.possible ? load.from : load.problem}
              {load.note && <span className="block">{load.note}</span>}
            </p>
          </div>
        ) : (
          <p className="self-center text-[16px] md:row-span-2">{method.set}</p>
        )}
        <div className="max-md:order-first md:col-start-2 md:row-start-1">
          <p className="cap mb-1.5">Load with</p>
          <PickOne
            label="Load with"
            chips={load.methods}
            value={method.code}
            onPick={(code) => change({ method: code })}
          />
        </div>
        <div className="md:col-start-2 md:row-start-2">
          <Countdown
            seconds={method.seconds}
            go={starter ? "Crank" : "Load on"}
            stop={starter ? "Stop cranking" : "Load off now"}
          />
        </div>
      </div>
      <div className="grid grid-cols-1 gap-x-7 gap-y-3 md:grid-cols-[288px_minmax(0,1fr)]">
        <NumberEntry
          big
          label="Volts at the end"
          unit="V"
          value={draft.volts}
          onChange={(v) => change({ volts: v })}
          onEnter={send}
          error={error ?? failed?.first}
          hint={half ? keep(load.limit_from) : ""}
          action={
            <>
              <button className="btn btn-act w-full" onClick={send} disabled={!reading || garbled || !!wrong || saving}>
                {saving ? "Saving …" : "Save, go on"} <kbd>Enter</kbd>
              </button>
              {props.onCancel && (
                <button className="btn btn-line" onClick={props.onCancel}>
                  Cancel
                </button>
              )}
            </>
          }
        />
        <div className="grid grid-cols-2 content-start gap-5">
          {!starter && (
            <NumberEntry
              label="Load that was on"
              unit="A"
              value={ampsText}
              onChange={(v) => change({ amps: v })}
              error={wrong?.at("amps")}
              hint={half ? "as set" : "printed on the tester"}
            />
          )}
          <NumberEntry
            label="Battery"
            unit={`°${person.temperature}`}
            value={draft.temp}
            onChange={(v) => change({ temp: v })}
            error={wrong?.at("battery_c")}
            hint={`${showTemp(load.battery_c, person.temperature)} °${person.temperature} ${load.assumed ? "assumed" : "from the sheet"}`}
          />
          {!narrow && (
            <div className="col-span-2 mt-1">
              <Dipstick gauge={props.gauge} name="Volts under load" />
            </div>
          )}
        </div>
      </div>
    </div>
  );
}
