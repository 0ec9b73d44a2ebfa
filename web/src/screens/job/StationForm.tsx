import type { Advice, Gauge, ReadingView, Sheet, StationView } from "../../lib/api";
import { putOn, useLoad } from "../../lib/load";
import { useDown } from "../../lib/line";
import { useNarrow } from "../../lib/pointer";
import { useWaiting } from "../../lib/outbox";
import { CautionLine } from "../../parts/CautionLine";
import { Dipstick } from "../../parts/Dipstick";
import { Heading } from "../../parts/Explain";
import { NumberEntry } from "../../parts/NumberEntry";
import { PickOne } from "../../parts/Chips";
import { Sign } from "../../parts/Sign";
import { Aids } from "./Aids";
import { Countdown, Start } from "./Countdown";
import { drawnFields, garbled, wayOf, type Drawn } from "./entry";
import { Figure, Picking, small } from "./fields";
import { History } from "./History";
import { StationTitle } from "./Station";
import { Taken } from "./Taken";
import { VerdictLine } from "./Verdict";
import type { Entry } from "./useEntry";

/** What the station is doing: showing what was taken, taking another, or putting one right. */
export type Mode = "show" | "again" | "correct";

type Props = {
  sheet: Sheet;
  n: number;
  station: StationView;
  last: ReadingView | undefined;
  mode: Mode;
  setMode: (mode: Mode) => void;
  entry: Entry;
};

/** On a phone the picture of the leads stands before the entry it belongs to. */
const BEFORE = "probe_picture";

/** One station, drawn from its description: figure, choices, what to set, dipsticks, and its own aids. */
export function StationForm({ sheet, n, station, last, mode, setMode, entry }: Props) {
  const waiting = useWaiting().filter((w) => w.job === sheet.job.id && w.kind === station.code && !w.refused);
  const showing = mode === "show" && last !== undefined;
  const { closed } = station.advice;
  const entering = !showing && (!closed || mode === "correct");
  // Gauges follow what is being typed; everything else is as the sheet stands.
  const gauges = (entry.preview?.stations.find((s) => s.code === station.code) ?? station).gauges;
  const below = gauges.filter((g, i) => g.shown && (showing || !g.title) && !(entering && i === 0));
  return (
    <>
      <StationTitle n={n} name={station.name} hint={station.hint} sheet={sheet} />
      {closed && <Closed advice={station.advice} />}
      {waiting.map((w) => (
        <p key={w.id} className="mb-2 flex items-center gap-2.5 border-l-4 border-slate bg-card px-4 py-2">
          <Sign kind="wait" bare />
          <span>
            <b className="font-[680]">{w.text}</b> waits on this device to be sent.
          </span>
        </p>
      ))}
      {showing && (
        <Taken
          reading={last}
          onAgain={closed ? undefined : () => setMode("again")}
          onCorrect={() => setMode("correct")}
        />
      )}
      {entering && (
        <Entering
          sheet={sheet}
          station={station}
          replaces={mode === "correct" ? last : undefined}
          entry={entry}
          chief={gauges[0]}
          onCancel={last ? () => setMode("show") : undefined}
        />
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
      {!(entering && station.fields.some((f) => f.big)) && <Aids sheet={sheet} aids={station.aids} />}
      {station.kind && <History all={sheet.readings} kind={station.kind} />}
    </>
  );
}

/** A dipstick, greyed while it is not of the figure that stands beside it. */
function Stick({ gauge, judging }: { gauge: Gauge; judging: Entry["judging"] }) {
  return (
    <div
      data-judging={judging}
      className={judging === "done" ? "" : "opacity-35 grayscale transition-opacity delay-300 duration-200"}
    >
      <Dipstick gauge={gauge} name={gauge.name} />
    </div>
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

/** What to think of before taking the reading. */
function Notice({ advice }: { advice: Advice }) {
  if (!advice.text || advice.closed) return null;
  if (advice.level === "ok")
    return (
      <p className="flex items-center gap-2.5 font-[600] text-verdigris">
        <Sign kind="ok" /> {advice.text}
      </p>
    );
  return (
    <p className="flex items-baseline gap-2.5 border-l-4 border-copper bg-card px-3.5 py-2 font-[600] text-copper">
      <span className="translate-y-0.5">
        <Sign kind="act" />
      </span>
      <span>
        {advice.head} {advice.text} <span className="font-[450] text-soft">{advice.more}</span>
      </span>
    </p>
  );
}

type EnteringProps = {
  sheet: Sheet;
  station: StationView;
  replaces: ReadingView | undefined;
  entry: Entry;
  chief: Gauge | undefined;
  onCancel: (() => void) | undefined;
};

function Entering({ sheet, station, replaces, entry, chief, onCancel }: EnteringProps) {
  const narrow = useNarrow();
  const running = useLoad();
  const mine = running?.job === sheet.job.id && running.station === station.code ? running : undefined;
  const load = mine && !mine.entered ? mine : undefined;
  const fields = drawnFields(station, entry.values);
  const way = wayOf(station, entry.values);
  const big = fields.find((d) => d.field.big);
  const figures = fields.filter((d) => small(d.field));
  const picked = fields.filter((d) => !d.field.big && !small(d.field) && d.field.name !== station.advice.by);
  const set = (d: Drawn) => (value: string) => entry.change({ [d.field.name]: value });
  const stick = chief && <Stick gauge={chief} judging={entry.judging} />;
  // What a hazard forbids is not set up either.
  const open = way !== undefined && !station.advice.closed;
  const focusBig = () => document.querySelector<HTMLElement>("[data-big]")?.focus();
  return (
    <div className="grid grid-cols-1 gap-2.5">
      {replaces && <p className="text-soft">Correcting {replaces.text}. Both stay in the history.</p>}
      {entry.first && (
        <p role="alert" className="border-l-4 border-copper bg-card px-3.5 py-2">
          <b className="font-[680]">{entry.first} was kept: its save had arrived.</b> What stands here now is another
          reading. Save it too, or cancel and correct the first.
        </p>
      )}
      {(station.advice.text || station.cautions.length > 0) && (
        <div>
          <Notice advice={station.advice} />
          {station.cautions.map((c) => (
            <CautionLine key={c.code} caution={c} />
          ))}
        </div>
      )}
      {narrow && station.aids.includes(BEFORE) && <Aids sheet={sheet} aids={[BEFORE]} small />}
      <div className="grid grid-cols-1 gap-x-7 gap-y-3 md:grid-cols-[minmax(0,288px)_minmax(0,1fr)]">
        <div
          className={
            load && narrow
              ? "fixed inset-0 z-50 grid content-evenly overflow-y-auto bg-paper px-4 py-3"
              : "grid min-w-0 content-start gap-3"
          }
        >
          {load ? (
            <div>
              <Countdown load={load} onOver={focusBig} />
              {narrow && entry.preview && (
                <div className="mt-3">
                  <VerdictLine shown={entry.preview} preview judging={entry.judging} />
                </div>
              )}
            </div>
          ) : (
            open && (
              <>
                <Setting way={way} />
                {way.timer && (
                  <Start
                    key={way.code}
                    seconds={way.timer.seconds}
                    wait={mine?.wait ?? 0}
                    onStart={() => {
                      putOn({
                        job: sheet.job.id,
                        tag: sheet.job.battery.tag ?? "",
                        station: station.code,
                        timer: way.timer!,
                      });
                      focusBig();
                    }}
                  />
                )}
              </>
            )
          )}
          {big && (
            <NumberEntry
              key={station.code}
              big
              first
              fresh={entry.fresh}
              label={big.field.label}
              unit={big.field.unit ?? ""}
              value={big.value}
              onChange={set(big)}
              onEnter={entry.send}
              error={errorOf(entry, big)}
              hint={big.hint}
              quick={narrow && !load && <Quick fields={picked} onPick={(d, v) => set(d)(v)} />}
              action={<Actions entry={entry} fields={fields} onCancel={load ? undefined : onCancel} />}
            >
              {narrow && chief && !load && <div className="mt-2">{stick}</div>}
            </NumberEntry>
          )}
          {big && !narrow && <Aids sheet={sheet} aids={station.aids} small />}
        </div>
        <div className="grid min-w-0 content-start gap-3 max-md:contents">
          {way && <Ways station={station} entry={entry} />}
          {picked.map((d, i) => (
            <Picking key={d.field.name} drawn={d} onChange={set(d)} first={!big && i === 0} />
          ))}
          {figures.length > 0 && (
            <div className="grid grid-cols-2 content-start gap-5">
              {figures.map((d) => (
                <Figure key={d.field.name} drawn={d} onChange={set(d)} error={entry.wrong?.at(d.field.name)} />
              ))}
            </div>
          )}
          {!big && (
            <div className="flex flex-wrap gap-3">
              <Actions entry={entry} fields={fields} onCancel={onCancel} />
            </div>
          )}
        </div>
        {big && narrow && <Aids sheet={sheet} aids={station.aids.filter((a) => a !== BEFORE)} />}
        {(!narrow || !big) && stick && <div className="md:col-span-2">{stick}</div>}
      </div>
    </div>
  );
}

/** On a phone the first word of what is left unsaid is a tap beside the figure; the rest stands below. */
function Quick(props: { fields: Drawn[]; onPick: (d: Drawn, value: string) => void }) {
  const d = props.fields.find((f) => f.field.unknown && f.field.choices);
  const first = d?.field.choices?.[0];
  if (!d || !first) return null;
  const said = d.field.choices?.find((c) => c.code === d.value);
  return (
    <button
      type="button"
      aria-pressed={said !== undefined}
      onClick={() => props.onPick(d, said ? "" : first.code)}
      className={`ml-2 min-h-12 max-w-[104px] shrink-0 self-center rounded-sm border-[1.5px] px-3 text-[15px] leading-tight font-[600] ${said ? "border-ink bg-ink text-paper" : "border-line bg-card"}`}
    >
      {said?.word ?? first.word}
    </button>
  );
}

/** What is wrong with the chief figure, or with the whole where no other field says it. */
function errorOf(entry: Entry, big: Drawn): string | undefined {
  if (garbled(big.value))
    return `“${big.value}” is not a number. Enter it as the instrument shows it, as in ${big.field.example}.`;
  const { wrong } = entry;
  const elsewhere = wrong?.problem.errors?.some((e) => !e.location?.endsWith("." + big.field.name));
  return wrong?.at(big.field.name) ?? (elsewhere ? undefined : wrong?.first) ?? entry.failed?.first;
}

function Actions(props: { entry: Entry; fields: Drawn[]; onCancel: (() => void) | undefined }) {
  const { entry } = props;
  const down = useDown();
  const bad = props.fields.some((d) => d.field.kind === "figure" && garbled(d.value));
  const word = entry.saving ? "Saving …" : down ? "Keep, send later" : "Save, go on";
  return (
    <>
      {entry.judging === "failed" && (
        <p role="alert" className="w-full text-[14px] text-soft">
          Not worked out: the server does not answer. The stick and the verdict are of before.
        </p>
      )}
      <button
        data-saves
        className="btn btn-act w-full"
        onClick={entry.send}
        disabled={!entry.ready || bad || entry.saving}
      >
        {word} <kbd>Enter</kbd>
      </button>
      {props.onCancel && (
        <button className="btn btn-line" onClick={props.onCancel}>
          Cancel
        </button>
      )}
    </>
  );
}

/** What to set before the load goes on, the largest thing there; or what to do. */
function Setting({ way }: { way: NonNullable<ReturnType<typeof wayOf>> }) {
  const { set } = way;
  if (!set) return way.do ? <p className="text-[16px]">{way.do}</p> : null;
  return (
    <div>
      <p className="cap">{set.caption}</p>
      <p className="text-[64px] leading-[1.05] font-[760] tracking-tight">
        {set.value === undefined ? (
          "?"
        ) : (
          <>
            {set.value}
            <span className="unit">{set.unit}</span>
          </>
        )}
      </p>
      <p className="text-[13.5px] leading-snug text-soft">{[set.from, set.note].filter(Boolean).join(" · ")}</p>
    </div>
  );
}

/** The ways of doing it. */
function Ways({ station, entry }: { station: StationView; entry: Entry }) {
  const { by = "", ways = [] } = station.advice;
  const field = station.fields.find((f) => f.name === by);
  if (!field) return null;
  return (
    <div className="max-md:order-first">
      <Heading text={field.label} />
      <PickOne
        label={field.label}
        chips={(field.choices ?? []).filter((c) => ways.some((w) => w.code === c.code))}
        value={wayOf(station, entry.values)?.code}
        onPick={(code) => entry.change({ [by]: code })}
      />
    </div>
  );
}
