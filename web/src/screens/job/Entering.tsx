import type { ReactNode } from "react";
import type { Advice, Gauge, ReadingView, Sheet, StationView } from "../../lib/api";
import { putOn, useLoad } from "../../lib/load";
import { useDown } from "../../lib/line";
import { useNarrow } from "../../lib/pointer";
import { CautionLine } from "../../parts/CautionLine";
import { NumberEntry } from "../../parts/NumberEntry";
import { PickOne } from "../../parts/Chips";
import { Sign } from "../../parts/Sign";
import { Aids } from "./Aids";
import { Countdown, Start } from "./Countdown";
import { drawnFields, garbled, kindOf, offered, WAY, wayOf, type Drawn } from "./entry";
import { Figure, Picking, small } from "./fields";
import { Cells } from "./Cells";
import { Circuit } from "./Circuit";
import { Look } from "./Look";
import { Picture } from "./Picture";
import { SleepClock } from "./SleepClock";
import { Stick, Sticks } from "./Stick";
import { TesterField } from "./TesterField";
import { VerdictLine } from "./Verdict";
import type { Entry } from "./useEntry";
import { Levers, WeekFlow } from "./WeekFlow";

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

/** What can hurt at the station, the way it is done now. */
export const cautionsOf = (station: StationView, entry: Entry) => [
  ...station.cautions,
  ...(wayOf(station, entry.values)?.cautions ?? []),
];

type EnteringProps = {
  sheet: Sheet;
  station: StationView;
  replaces: ReadingView | undefined;
  entry: Entry;
  gauges: Gauge[];
  onCancel: (() => void) | undefined;
};

/** Puts the hands on the chief figure. */
const focusBig = () => document.querySelector<HTMLElement>("[data-big]")?.focus();

export function Entering({ sheet, station, replaces, entry, gauges, onCancel }: EnteringProps) {
  const chief = gauges[0];
  const narrow = useNarrow();
  const running = useLoad();
  const mine = running?.job === sheet.job.id && running.station === station.code ? running : undefined;
  const load = mine && !mine.entered ? mine : undefined;
  const fields = drawnFields(station, entry.values);
  const way = wayOf(station, entry.values);
  const big = fields.find((d) => d.field.big);
  const figures = fields.filter((d) => small(d.field));
  const picked = fields.filter((d) => !d.field.big && !small(d.field) && d.field.kind !== "figures");
  const cautions = cautionsOf(station, entry);
  // On a phone the picture stands before the entry where there is the room, else after it.
  const lone = offered(station).length < 2 && !way?.timer && !way?.do;
  const set = (d: Drawn) => (value: string) => entry.change({ [d.field.name]: value });
  const picture = <Picture station={station.code} way={way?.code} plus={sheet.plus} minus={sheet.minus} />;
  const cells = fields.find((d) => d.field.kind === "figures");
  const start = way?.timer && (
    <Start
      key={way.code}
      seconds={way.timer.seconds}
      wait={mine?.wait ?? 0}
      onStart={() => {
        putOn({ job: sheet.job.id, tag: sheet.job.battery.tag ?? "", station: station.code, timer: way.timer! });
        focusBig();
      }}
    />
  );
  // On a phone the start stands beside the figure where nothing is set.
  const inline = narrow && big !== undefined && way !== undefined && !way.set;
  // The picture stands where there is room: beside the figure, unless much is entered there.
  const beside = !cells && big !== undefined && fields.length < 5;
  const stick = chief && <Stick gauge={chief} judging={entry.judging} />;
  // What a hazard forbids is not set up either.
  const open = way !== undefined && !station.advice.closed;
  if (way?.kind === "inspection")
    return (
      <div className="grid grid-cols-1 gap-2.5">
        {replaces && <p className="text-soft">Correcting {replaces.text}. Both stay in the history.</p>}
        {way && <Ways station={station} entry={entry} />}
        {station.advice.level !== "ok" && <Notice advice={station.advice} />}
        <Look station={station} plus={sheet.plus} minus={sheet.minus} entry={entry} />
        <div className="flex flex-wrap gap-3 max-md:sticky max-md:bottom-[calc(var(--strip-h)+8px)] max-md:z-10 max-md:bg-paper max-md:py-1">
          <Actions entry={entry} fields={fields} onCancel={onCancel} />
        </div>
      </div>
    );
  if (way?.kind === "week")
    return <Telling {...{ sheet, station, replaces, entry, gauges, fields, onCancel }} narrow={narrow} />;
  if (way?.kind === "crank" && !narrow)
    return <Cranking {...{ sheet, station, replaces, entry, gauges, fields, onCancel }} start={open && start} />;
  return (
    <div className="grid grid-cols-1 gap-2.5">
      {replaces && <p className="text-soft">Correcting {replaces.text}. Both stay in the history.</p>}
      {entry.first && (
        <p role="alert" className="border-l-4 border-copper bg-card px-3.5 py-2">
          <b className="font-[680]">{entry.first} was kept: its save had arrived.</b> What stands here now is another
          reading. Save it too, or cancel and correct the first.
        </p>
      )}
      {(!narrow || station.advice.level !== "ok") && <Notice advice={station.advice} />}
      {!narrow && cautions.length > 0 && (
        <div>
          {cautions.map((c) => (
            <CautionLine key={c.code} caution={c} />
          ))}
        </div>
      )}
      {narrow && !load && lone && <div className="[&_svg]:max-h-[78px]">{picture}</div>}
      <div
        className={`grid grid-cols-1 gap-x-7 gap-y-3 ${cells ? "" : "md:grid-cols-[minmax(0,288px)_minmax(0,1fr)]"}`}
      >
        <div
          className={
            load && narrow
              ? "fixed inset-0 z-50 grid content-evenly overflow-y-auto bg-paper px-4 py-3"
              : "grid min-w-0 content-start gap-2 md:gap-3"
          }
        >
          {cells && chief && (
            <Cells
              cells={cells.count}
              apart={cells.apart}
              scale={chief}
              value={cells.value}
              onChange={set(cells)}
              onEnter={entry.send}
              error={entry.wrong?.first}
            />
          )}
          {cells && stick}
          {cells && narrow && (
            <div className="flex gap-3">
              <Actions entry={entry} fields={fields} onCancel={onCancel} />
            </div>
          )}
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
            open &&
            !inline && (
              <div
                className={way.set ? "grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-center gap-3" : "grid gap-3"}
              >
                <Setting way={way} narrow={narrow} />
                {start}
              </div>
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
              hint={narrow && chief ? "" : big.hint}
              quick={
                narrow &&
                !load &&
                (inline && open && start ? (
                  <div className="ml-2 w-[112px] shrink-0 self-center">{start}</div>
                ) : (
                  <Quick fields={picked} onPick={(d, v) => set(d)(v)} />
                ))
              }
              action={<Actions entry={entry} fields={fields} onCancel={load ? undefined : onCancel} />}
            >
              {narrow && chief && !load && <div className="mt-2">{stick}</div>}
            </NumberEntry>
          )}
          {!narrow && !beside && picture}
          {big && !narrow && <Aids sheet={sheet} station={station} />}
        </div>
        <div className="grid min-w-0 content-start gap-3 max-md:contents">
          {way && !cells && <Ways station={station} entry={entry} />}
          <div className={cells ? "flex flex-wrap items-end gap-x-7 gap-y-2" : "contents"}>
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
          </div>
          <TesterField station={station} entry={entry} />
          {!narrow && beside && <div className="max-w-[350px]">{picture}</div>}
          {way?.asleep_minutes !== undefined && (
            <SleepClock
              job={sheet.job.id}
              enough={way.asleep_minutes}
              onMinutes={(m) => entry.change({ minutes_asleep: String(m) })}
            />
          )}
          {!big && !(cells && narrow) && (
            <div className="flex flex-wrap gap-3">
              <Actions entry={entry} fields={fields} onCancel={onCancel} />
            </div>
          )}
        </div>
        {narrow && !lone && (big || cells) && (
          <div>
            {way?.do && !way.set && <p className="mb-2">{way.do}</p>}
            {picture}
          </div>
        )}
        {big && narrow && <Aids sheet={sheet} station={station} />}
        {(!narrow || !big) && !cells && stick && <div className="md:col-span-2">{stick}</div>}
      </div>
    </div>
  );
}

/** A usual week: what it comes to is drawn beside it while it is told. */
function Telling({
  station,
  replaces,
  entry,
  gauges,
  fields,
  narrow,
  onCancel,
}: EnteringProps & { fields: Drawn[]; narrow: boolean }) {
  const big = fields.find((d) => d.field.big);
  const picked = fields.filter((d) => !d.field.big);
  const set = (d: Drawn) => (value: string) => entry.change({ [d.field.name]: value });
  const flow = entry.preview?.stations.find((s) => s.code === station.code)?.flow;
  const chief = gauges[0];
  return (
    <div className="grid grid-cols-1 gap-x-7 gap-y-3 md:grid-cols-[minmax(0,300px)_minmax(0,1fr)]">
      <div className="grid min-w-0 content-start gap-3">
        {replaces && <p className="text-soft">Correcting {replaces.text}. Both stay in the history.</p>}
        <Notice advice={station.advice} />
        {big && (
          <NumberEntry
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
            action={narrow ? null : <Actions entry={entry} fields={fields} onCancel={onCancel} />}
          />
        )}
        {picked.map((d) => (
          <Picking key={d.field.name} drawn={d} onChange={set(d)} />
        ))}
      </div>
      <div className="min-w-0 self-start md:sticky md:top-[72px]">
        {flow ? (
          <div className={entry.judging === "working" ? "opacity-60" : ""}>
            <WeekFlow flow={flow} />
            {narrow && <Levers flow={flow} />}
          </div>
        ) : (
          chief && (
            <>
              <p className="mb-2 text-[16px]">{wayOf(station, entry.values)?.do}</p>
              <Stick gauge={chief} judging={entry.judging} />
            </>
          )
        )}
      </div>
      {narrow && (
        <div className="sticky bottom-[calc(var(--strip-h)+8px)] z-10 flex flex-wrap gap-3 bg-paper py-1">
          <Actions entry={entry} fields={fields} onCancel={onCancel} />
        </div>
      )}
    </div>
  );
}

type CrankingProps = EnteringProps & {
  fields: Drawn[];
  start: ReactNode;
};

/** Cranking, where there is the room: the circuit, with every figure on its own lead. */
function Cranking({ sheet, station, replaces, entry, gauges, fields, start, onCancel }: CrankingProps) {
  const arrives = (entry.preview ?? sheet).findings.find((f) => f.code === "crank.reaches");
  const load = useLoad();
  const counting = load?.job === sheet.job.id && load.station === station.code && !load.entered ? load : undefined;
  const turned = fields.find((d) => d.field.name === "turned");
  return (
    <div className="grid grid-cols-1 gap-2">
      {replaces && <p className="text-soft">Correcting {replaces.text}. Both stay in the history.</p>}
      {station.advice.level !== "ok" && <Notice advice={station.advice} />}
      {counting ? (
        <Countdown load={counting} onOver={focusBig} />
      ) : (
        <div className="flex items-start justify-between gap-3">
          <Ways station={station} entry={entry} />
          <div className="w-[130px] shrink-0">{start}</div>
        </div>
      )}
      <Circuit
        fields={fields}
        plus={sheet.plus}
        minus={sheet.minus}
        onChange={(d, v) => entry.change({ [d.field.name]: v })}
        onEnter={entry.send}
        errorOf={(d) => (d.field.big ? errorOf(entry, d) : wrongOf(entry, d))}
        arrives={arrives?.text}
      >
        {turned && <Picking drawn={turned} onChange={(v) => entry.change({ [turned.field.name]: v })} />}
      </Circuit>
      <Sticks gauges={gauges.filter((g, i) => i === 0 || (g.shown && g.band))} judging={entry.judging} />
      <div className="flex flex-wrap gap-3">
        <Actions entry={entry} fields={fields} onCancel={onCancel} />
      </div>
    </div>
  );
}

/** What is wrong with a figure that is not the chief one. */
const wrongOf = (entry: Entry, d: Drawn) =>
  d.value !== "" && garbled(d.value) ? `“${d.value}” is not a number.` : entry.wrong?.at(d.field.name);

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
  // What no field on the form can say of itself stands over the button.
  const refused = props.fields.some((d) => d.field.big) ? undefined : (entry.wrong?.first ?? entry.failed?.first);
  const word = entry.saving ? "Saving …" : down ? "Keep, send later" : "Save, go on";
  return (
    <>
      {refused && (
        <p role="alert" className="w-full border-l-4 border-oxide bg-card px-3.5 py-2 text-oxide">
          {refused}
        </p>
      )}
      {entry.judging === "failed" && (
        <p role="alert" className="w-full text-[14px] text-soft">
          Not worked out: the server does not answer. The stick and the verdict are of before.
        </p>
      )}
      <button
        data-saves
        className="btn btn-act min-w-0 flex-1"
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
function Setting({ way, narrow }: { way: NonNullable<ReturnType<typeof wayOf>>; narrow: boolean }) {
  const { set } = way;
  if (!set) return way.do ? <p className="text-[16px]">{way.do}</p> : null;
  return (
    <div>
      <p className="cap max-md:line-clamp-1">
        {narrow ? [set.caption, set.from].filter(Boolean).join(", ") : set.caption}
      </p>
      <p className={`leading-[1.05] font-[760] tracking-tight ${narrow ? "text-[40px]" : "text-[64px]"}`}>
        {set.value === undefined ? (
          "?"
        ) : (
          <>
            {set.value}
            <span className="unit">{set.unit}</span>
          </>
        )}
      </p>
      {!narrow && (
        <p className="text-[13.5px] leading-snug text-soft">{[set.from, set.note].filter(Boolean).join(" · ")}</p>
      )}
    </div>
  );
}

/** The ways of doing it, where there is more than one. */
function Ways({ station, entry }: { station: StationView; entry: Entry }) {
  const ways = offered(station);
  if (ways.length < 2) return null;
  // What was set for one way is not what another is set to; the figure and the temperature stay.
  const big = kindOf(station, entry.values)?.fields.find((f) => f.big)?.name;
  const own = (wayOf(station, entry.values)?.fields ?? []).map((f) => f.name);
  const left = Object.fromEntries(own.filter((f) => f !== big && f !== "battery_c").map((f) => [f, undefined]));
  return (
    <div className="max-md:order-first">
      <PickOne
        row
        label={`Ways of ${station.name}`}
        chips={ways}
        value={wayOf(station, entry.values)?.code}
        onPick={(code) => entry.change({ ...left, [WAY]: code })}
      />
    </div>
  );
}
