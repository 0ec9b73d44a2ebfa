import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Advice, ReadingView, Sheet, StationView } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";
import { useWaiting } from "../../lib/outbox";
import { Sign } from "../../parts/Sign";
import { Aids } from "./Aids";
import { kindOf, offered, WAY } from "./entry";
import { HandedOver, useMay } from "./HandedOver";
import { History } from "./History";
import { cautionsOf, Entering } from "./Entering";
import { Looked } from "./Look";
import { Stick } from "./Stick";
import { StationTitle } from "./Station";
import { Taken } from "./Taken";
import type { Entry } from "./useEntry";
import { GuideHere } from "./Guides";
import { HangHere } from "./HangHere";
import { OnCharge } from "./OnCharge";
import { Levers, WeekFlow } from "./WeekFlow";

/** What the station is doing: showing what was taken, taking another, or putting one right. */
export type Mode = "show" | "again" | "correct";

type Props = {
  sheet: Sheet;
  n: number;
  station: StationView;
  last: ReadingView | undefined;
  mode: Mode;
  entering: boolean;
  setMode: (mode: Mode) => void;
  entry: Entry;
  /** To where the work goes on. */
  goOn: () => void;
  /** What stands over the entry, and under it. */
  above?: ReactNode;
  below?: ReactNode;
};

const none = {};

/** One station, drawn from its description: figure, choices, what to set, dipsticks, and its own aids. */
export function StationForm({
  sheet,
  n,
  station,
  last,
  mode,
  entering,
  setMode,
  entry,
  goOn,
  above,
  below: under,
}: Props) {
  const may = useMay(sheet);
  const waiting = useWaiting().filter(
    (w) => w.job === sheet.job.id && station.kinds.some((k) => k.code === w.kind) && !w.refused,
  );
  const narrow = useNarrow();
  const showing = !entering && last !== undefined;
  const { closed } = station.advice;
  // Only a lead is offered to go on in spite of a hazard.
  const lift = may.take && offered(station).find((w) => w.kind === "override");
  // Gauges follow what is being typed; everything else is as the sheet stands.
  const gauges = (entry.preview?.stations.find((s) => s.code === station.code) ?? station).gauges;
  // The circuit has its sticks within.
  const within = entering && !narrow && kindOf(station, entry.values)?.code === "crank";
  const below = gauges.filter((g, i) => !within && g.shown && (showing || !g.title) && !(entering && i === 0));
  return (
    <>
      <StationTitle
        n={n}
        name={station.name}
        hint={station.hint}
        sheet={sheet}
        {...((narrow || within) && entering ? { cautions: cautionsOf(station, entry) } : {})}
      />
      {station.code === "clean" && may.take && !sheet.guides.some((g) => g.what === "clean") && (
        <div className="mb-2 max-md:[&_a]:w-full">
          <GuideHere sheet={sheet} what="clean" />
        </div>
      )}
      {!may.take && <HandedOver sheet={sheet} />}
      {above}
      {closed && <Closed advice={station.advice} />}
      {waiting.map((w) => (
        <p key={w.id} className="mb-2 flex items-center gap-2.5 border-l-4 border-slate bg-card px-4 py-2">
          <Sign kind="wait" bare />
          <span>
            <b className="font-[680]">{w.text}</b> waits on this device to be sent.
          </span>
        </p>
      ))}
      {showing && station.flow && (
        <p className="text-[15px] leading-snug text-soft" data-testid="told">
          <b className="font-[640] text-ink">
            {last.text} {last.how}
          </b>
          , {last.by}
        </p>
      )}
      {showing && !station.flow && (
        <Taken
          reading={last}
          onAgain={closed || !may.take ? undefined : () => setMode("again")}
          onCorrect={may.correct ? () => setMode("correct") : undefined}
        />
      )}
      {showing && Array.isArray(last.reading.found) && (
        <Looked
          station={station}
          plus={sheet.plus}
          minus={sheet.minus}
          found={last.reading.found as string[]}
          onAgain={may.take ? () => setMode("again") : undefined}
        />
      )}
      {showing && !closed && station.advice.level === "stop" && (
        <div className="mt-3 flex flex-wrap items-center justify-between gap-3 border-l-4 border-oxide bg-card px-4 py-2.5">
          <p className="min-w-0 flex-1 basis-[260px] font-[600]">{station.advice.text}</p>
          {lift && (
            <button
              data-lift
              className="btn btn-line"
              onClick={() => {
                setMode("again");
                entry.change({ [WAY]: lift.code });
              }}
            >
              {lift.word}
            </button>
          )}
        </div>
      )}
      {station.code === "charge" && sheet.on_charge && !entering && (
        <div className="mt-3">
          <OnCharge sheet={sheet} />
        </div>
      )}
      {entering && (
        <Entering
          sheet={sheet}
          station={station}
          replaces={mode === "correct" ? last : undefined}
          entry={entry}
          gauges={gauges}
          onCancel={last ? () => setMode("show") : undefined}
        />
      )}
      {station.code === "charge" && sheet.on_charge && entering && (
        <div className="mt-3">
          <OnCharge sheet={sheet} />
        </div>
      )}
      {station.code === "acid" && may.take && (
        <div className="mt-3">
          <GuideHere sheet={sheet} what="water" />
        </div>
      )}
      {station.code === "charge" && !sheet.on_charge && !closed && may.take && (
        <HangHere sheet={sheet} station={station} values={entering ? entry.values : none} />
      )}
      {station.code === "crank" && may.take && (
        <p className="mt-3">
          <Link to={`/jump?job=${sheet.job.id}`} className="btn btn-line">
            Will it start on another? Plan the jump
          </Link>
        </p>
      )}
      {showing && station.flow && (
        <div className="mt-2 grid gap-3">
          <WeekFlow flow={station.flow} />
          <div className="flex flex-wrap gap-3">
            <button className="btn btn-act min-w-[160px] flex-1 md:flex-none" onClick={goOn}>
              Go on
            </button>
            {may.take && (
              <button className="btn btn-line" onClick={() => setMode("again")}>
                Tell it again
              </button>
            )}
            {may.correct && (
              <button className="btn btn-quiet" onClick={() => setMode("correct")}>
                Correct this one
              </button>
            )}
          </div>
          {narrow && <Levers flow={station.flow} />}
        </div>
      )}
      {below.length > 0 && (
        <div className="mt-4 grid grid-cols-1 gap-y-3">
          {below.map((g) => (
            <div key={g.quantity} className={g.title ? "mt-2" : ""}>
              {g.title && <p className="cap mb-1">{g.title}</p>}
              <Stick gauge={g} judging={entry.judging} />
            </div>
          ))}
        </div>
      )}
      {!(entering && kindOf(station, entry.values)?.fields.some((f) => f.big)) && (
        <Aids sheet={sheet} station={station} />
      )}
      {under}
      <History all={sheet.readings} kinds={station.kinds.map((k) => k.code)} />
    </>
  );
}

/** A hazard stands: the words; nothing is taken here, and only what was taken can be put right. */
function Closed({ advice }: { advice: Advice }) {
  return (
    <p
      className="mb-3 flex items-baseline gap-3 border-l-4 border-oxide bg-card px-4 py-3 text-[18px] font-[680] text-oxide"
      role="alert"
    >
      <Sign kind="stop" bare />
      {advice.text}
    </p>
  );
}
