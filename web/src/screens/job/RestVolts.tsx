import { useState } from "react";
import { v7 as uuid } from "uuid";
import { api, got, type Gauge, type Judgement, type Reading, type ReadingView, type Sheet } from "../../lib/api";
import { useDraft } from "../../lib/draft";
import { useNarrow } from "../../lib/pointer";
import { useChoices, useJobChange } from "../../lib/queries";
import { atTime, span, useNow } from "../../lib/time";
import { readNumber } from "../../lib/units";
import { PickOne } from "../../parts/Chips";
import { Dipstick } from "../../parts/Dipstick";
import { NumberEntry } from "../../parts/NumberEntry";
import { Posts } from "../../parts/Posts";
import { History } from "./History";
import type { StationName } from "./JobSheet";
import { StationTitle } from "./Station";
import { Taken } from "./Taken";
import { useStationReading } from "./useStationReading";

const since = [
  { code: "0", word: "Just now" },
  { code: "30", word: "30 min" },
  { code: "60", word: "1 h" },
  { code: "180", word: "3 h" },
  { code: "600", word: "Overnight" },
  { code: "2880", word: "Days" },
  { code: "unknown", word: "Not known" },
];

const empty = { volts: "", surface: "rested", minutes: "unknown" };

type Props = {
  sheet: Sheet;
  live: ReadingView[];
  preview: Judgement | undefined;
  onPreview: (j: Judgement | undefined) => void;
  go: (s: StationName) => void;
};

export function RestVolts({ sheet, live, preview, onPreview, go }: Props) {
  const last = live.filter((r) => r.reading.kind === "rest_voltage").at(-1);
  const [mode, setMode] = useState<"show" | "again" | "correct">(last ? "show" : "again");
  const narrow = useNarrow();
  const gauges = (preview ?? sheet).gauges;
  const volts = gauges.find((g) => g.quantity === "rest_volts")!;
  const charge = gauges.find((g) => g.quantity === "charge")!;
  return (
    <>
      <StationTitle n={2} name="Rest volts" hint="across the posts, everything off" />
      {mode === "show" && last ? (
        <Taken
          figure={last.reading.volts!.toFixed(2)}
          unit="V"
          reading={last}
          said={surfaceWords(last.reading)}
          onAgain={() => setMode("again")}
          onCorrect={() => setMode("correct")}
        />
      ) : (
        <Entry
          sheet={sheet}
          replaces={mode === "correct" ? last : undefined}
          charge={charge}
          onPreview={onPreview}
          onSaved={() => {
            setMode("show");
            go("Load test");
          }}
          onCancel={last ? () => setMode("show") : undefined}
        />
      )}
      <div className="mt-4 grid grid-cols-1 gap-y-3">
        {(mode === "show" || !narrow) && <Dipstick gauge={charge} name="Charge" />}
        <Dipstick gauge={volts} name="Rest voltage" />
      </div>
      <RestControl sheet={sheet} />
      <div className="mt-4">
        <Posts plus={sheet.plus} minus={sheet.minus} tool="probe" />
      </div>
      <History all={sheet.readings} kind="rest_voltage" />
    </>
  );
}

function surfaceWords(r: Reading): string {
  const how: Record<string, string> = {
    rested: "rested",
    headlights_2min: "after 2 min of lights",
    high_beam_5min: "after 5 min of high beam",
    load_15s: "after a 15 s load",
    none: "surface charge not removed",
  };
  const minutes = since.find((s) => s.code === String(r.minutes_since_charge))?.word.toLowerCase();
  return [how[r.surface_charge ?? "none"], minutes && `last charged or driven: ${minutes}`].filter(Boolean).join(", ");
}

function Entry(props: {
  sheet: Sheet;
  replaces: ReadingView | undefined;
  charge: Gauge;
  onPreview: (j: Judgement | undefined) => void;
  onSaved: () => void;
  onCancel: (() => void) | undefined;
}) {
  const { sheet, replaces } = props;
  const { draft, change, clear } = useDraft(`${sheet.job.id}.rest${replaces ? "." + replaces.id : ""}`, empty);
  const choices = useChoices();
  const narrow = useNarrow();
  const value = readNumber(draft.volts);
  const reading: Reading | undefined =
    value === undefined
      ? undefined
      : {
          kind: "rest_voltage",
          volts: value,
          surface_charge: draft.surface as NonNullable<Reading["surface_charge"]>,
          ...(draft.minutes === "unknown" ? {} : { minutes_since_charge: Number(draft.minutes) }),
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
  const garbled = draft.volts !== "" && value === undefined && !/^[-−+.,]$/.test(draft.volts);
  const error = garbled
    ? `“${draft.volts}” is not a number. Enter the volts as the meter shows them, as in 12.40.`
    : wrong?.first;
  return (
    <div>
      {replaces && (
        <p className="mb-2 text-soft">Correcting {replaces.reading.volts?.toFixed(2)} V. Both stay in the history.</p>
      )}
      <div className="grid grid-cols-1 gap-x-7 gap-y-4 md:grid-cols-[244px_minmax(0,1fr)]">
        <NumberEntry
          big
          autoFocus
          label="Meter reads"
          unit="V"
          value={draft.volts}
          onChange={(volts) => change({ volts })}
          onEnter={send}
          error={error ?? failed?.first}
          action={
            <>
              <button className="btn btn-act w-full" onClick={send} disabled={!reading || !!error || saving}>
                {saving ? "Saving …" : "Save, go on"} <kbd>Enter</kbd>
              </button>
              {props.onCancel && (
                <button className="btn btn-line" onClick={props.onCancel}>
                  Cancel
                </button>
              )}
            </>
          }
        >
          {narrow && (
            <div className="mt-2">
              <Dipstick gauge={props.charge} name="Charge" />
            </div>
          )}
        </NumberEntry>
        <div className="grid content-start gap-3">
          <div>
            <p className="cap mb-1.5">Surface charge</p>
            <PickOne
              label="Surface charge"
              chips={choices.data?.surfaces ?? []}
              value={draft.surface}
              onPick={(surface) => change({ surface })}
            />
          </div>
          <div>
            <p className="cap mb-1.5">Last charged or driven</p>
            <PickOne
              label="Last charged or driven"
              chips={since}
              value={draft.minutes}
              onPick={(minutes) => change({ minutes })}
            />
          </div>
        </div>
      </div>
    </div>
  );
}

/** Lets the battery rest, and shows how long it still has to. */
function RestControl({ sheet }: { sheet: Sheet }) {
  const id = sheet.job.id;
  const now = useNow(1000);
  const begin = useJobChange(id, (body: { id: string; minutes: number }) =>
    got(api.POST("/api/jobs/{id}/rests", { params: { path: { id } }, body })),
  );
  const end = useJobChange(id, () => got(api.DELETE("/api/jobs/{id}/rests", { params: { path: { id } } })));
  if (sheet.job.closed_at) return null;
  if (sheet.rest) {
    const left = new Date(sheet.rest.ends_at).getTime() - now;
    return (
      <p className="mt-4 flex flex-wrap items-center gap-x-4 gap-y-1 border-l-4 border-slate bg-card px-4 py-2">
        <span className="text-[22px] font-[760] text-slate">{left > 0 ? span(left) : "Rest over"}</span>
        <span>
          {left > 0
            ? `of rest to go, until ${atTime(sheet.rest.ends_at)}. It is on the clock.`
            : "Take the volts now, before anything is switched on."}
        </span>
        <button className="btn btn-quiet ml-auto" onClick={() => end.mutate(undefined)} disabled={end.isPending}>
          End the rest
        </button>
      </p>
    );
  }
  return (
    <p className="mt-4 flex flex-wrap items-center gap-2">
      <button
        className="btn btn-line"
        onClick={() => begin.mutate({ id: uuid(), minutes: sheet.rest_minutes })}
        disabled={begin.isPending}
      >
        Let it rest{" "}
        {sheet.rest_minutes < 100 ? `${sheet.rest_minutes} min` : `${Math.round(sheet.rest_minutes / 60)} h`}
      </button>
      <span className="text-[14px] text-soft">The clock calls when it is over.</span>
      {(begin.error ?? end.error) && (
        <span role="alert" className="text-oxide">
          {(begin.error ?? end.error)?.message}
        </span>
      )}
    </p>
  );
}
