import type { Advice, Field, Gauge, ReadingView, Sheet, StationView } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";
import { usePerson } from "../../lib/queries";
import { readNumber, unitOf, type Scale } from "../../lib/units";
import { CautionLine } from "../../parts/CautionLine";
import { PickAny, PickOne } from "../../parts/Chips";
import { Dipstick } from "../../parts/Dipstick";
import { NumberEntry } from "../../parts/NumberEntry";
import { Sign } from "../../parts/Sign";
import { Aids } from "./Aids";
import { Countdown } from "./Countdown";
import { drawnFields, garbled, wayOf, type Drawn } from "./entry";
import { History } from "./History";
import { StationTitle } from "./Station";
import { Taken } from "./Taken";
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

/** One station, drawn from its description: figure, choices, what to set, dipsticks, and its own aids. */
export function StationForm({ sheet, n, station, last, mode, setMode, entry }: Props) {
  const narrow = useNarrow();
  const showing = mode === "show" && last !== undefined;
  const { closed } = station.advice;
  // Gauges follow what is being typed; everything else is as the sheet stands.
  const gauges = (entry.preview?.stations.find((s) => s.code === station.code) ?? station).gauges;
  const chief = gauges[0];
  // Where there are figures beside the chief one, its stick stands with them.
  const beside = !showing && drawnFields(station, entry.values).some((d) => small(d.field));
  const inside = !showing && (narrow || beside);
  const below = gauges.filter((g, i) => g.shown && !(inside && i === 0) && (showing || !g.title));
  return (
    <>
      <StationTitle n={n} name={station.name} hint={station.hint} />
      {closed && <Closed advice={station.advice} />}
      {showing ? (
        <Taken
          reading={last}
          onAgain={closed ? undefined : () => setMode("again")}
          onCorrect={() => setMode("correct")}
        />
      ) : (
        (!closed || mode === "correct") && (
          <Entering
            station={station}
            replaces={mode === "correct" ? last : undefined}
            entry={entry}
            chief={chief}
            onCancel={last ? () => setMode("show") : undefined}
          />
        )
      )}
      {below.length > 0 && (
        <div className="mt-4 grid grid-cols-1 gap-y-3">
          {below.map((g) => (
            <div key={g.quantity} className={g.title ? "mt-2" : ""}>
              {g.title && <p className="cap mb-1">{g.title}</p>}
              <Dipstick gauge={g} name={g.name} />
            </div>
          ))}
        </div>
      )}
      <Aids sheet={sheet} aids={station.aids} />
      {station.kind && <History all={sheet.readings} kind={station.kind} />}
    </>
  );
}

/** A figure beside the chief one, and not among a few worth a tap. */
const small = (f: Field) => f.kind === "figure" && !f.big && !f.picks;

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
    <p className="flex items-baseline gap-2.5 border-l-4 border-copper bg-card px-3.5 py-2.5 font-[600] text-copper">
      <span className="translate-y-0.5">
        <Sign kind="act" />
      </span>
      <span>
        {advice.head} {advice.text} <span className="font-[450] text-soft">{advice.more}</span>
      </span>
    </p>
  );
}

function Entering(props: {
  station: StationView;
  replaces: ReadingView | undefined;
  entry: Entry;
  chief: Gauge | undefined;
  onCancel: (() => void) | undefined;
}) {
  const { station, replaces, entry, chief } = props;
  const narrow = useNarrow();
  const fields = drawnFields(station, entry.values);
  const big = fields.find((d) => d.field.big);
  const figures = fields.filter((d) => small(d.field));
  const picked = fields.filter((d) => !d.field.big && !small(d.field) && d.field.name !== station.advice.by);
  const set = (d: Drawn) => (value: string) => entry.change({ [d.field.name]: value });
  const named = [...fields].filter((d) => entry.wrong?.at(d.field.name)).map((d) => d.field.name);
  const other = entry.wrong && named.every((name) => name === big?.field.name) ? entry.wrong.first : undefined;
  const bad = big && garbled(big.value);
  const error = bad
    ? `“${big.value}” is not a number. Enter it as the instrument shows it, as in ${big.field.example}.`
    : ((big && entry.wrong?.at(big.field.name)) ?? other ?? entry.failed?.first);
  const actions = (
    <>
      <button
        className="btn btn-act w-full"
        onClick={entry.send}
        disabled={!entry.ready || bad || figures.some((d) => garbled(d.value)) || entry.saving}
      >
        {entry.saving ? "Saving …" : "Save, go on"} <kbd>Enter</kbd>
      </button>
      {props.onCancel && (
        <button className="btn btn-line" onClick={props.onCancel}>
          Cancel
        </button>
      )}
    </>
  );
  return (
    <div className="grid grid-cols-1 gap-2.5">
      {replaces && <p className="text-soft">Correcting {replaces.text}. Both stay in the history.</p>}
      {(station.advice.text || station.cautions.length > 0) && (
        <div>
          <Notice advice={station.advice} />
          {station.cautions.map((c) => (
            <CautionLine key={c.code} caution={c} />
          ))}
        </div>
      )}
      {station.advice.ways && <Way station={station} entry={entry} />}
      <div className="grid grid-cols-1 gap-x-7 gap-y-4 md:grid-cols-[288px_minmax(0,1fr)]">
        {big ? (
          <NumberEntry
            key={station.code}
            big
            autoFocus={!station.advice.ways}
            label={big.field.label}
            unit={big.field.unit ?? ""}
            value={big.value}
            onChange={set(big)}
            onEnter={entry.send}
            error={error}
            hint={big.hint}
            action={actions}
          >
            {narrow && chief && (
              <div className="mt-2">
                <Dipstick gauge={chief} name={chief.name} />
              </div>
            )}
          </NumberEntry>
        ) : (
          <div className="order-last flex flex-wrap gap-3">{actions}</div>
        )}
        <div className="grid content-start gap-3">
          {picked.map((d) => (
            <Picking key={d.field.name} drawn={d} onChange={set(d)} />
          ))}
          {figures.length > 0 && (
            <div className="grid grid-cols-2 content-start gap-5">
              {figures.map((d) => (
                <Figure key={d.field.name} drawn={d} onChange={set(d)} error={entry.wrong?.at(d.field.name)} />
              ))}
              {!narrow && chief && (
                <div className="col-span-2 mt-1">
                  <Dipstick gauge={chief} name={chief.name} />
                </div>
              )}
            </div>
          )}
        </div>
      </div>
    </div>
  );
}

/** A word or several, or a figure among those worth a tap. */
function Picking({ drawn: { field, value }, onChange }: { drawn: Drawn; onChange: (v: string) => void }) {
  let picks;
  if (field.kind === "choices") {
    picks = (
      <PickAny
        label={field.label}
        chips={field.choices ?? []}
        value={value ? value.split(" ") : []}
        onPick={(codes) => onChange(codes.join(" "))}
      />
    );
  } else if (field.picks) {
    const chips = field.picks.map((p) => ({ code: String(p.value), word: p.word }));
    if (field.unknown) chips.push({ code: "unknown", word: field.unknown });
    picks = <PickOne label={field.label} chips={chips} value={value || "unknown"} onPick={onChange} />;
  } else if (field.kind === "flag") {
    const chips = [
      { code: "yes", word: "Yes" },
      { code: "no", word: "No" },
    ];
    picks = <PickOne label={field.label} chips={chips} value={value} onPick={onChange} />;
  } else if (field.kind === "choice") {
    picks = <PickOne label={field.label} chips={field.choices ?? []} value={value} onPick={onChange} />;
  } else {
    return <NumberEntry label={field.label} unit={field.unit ?? ""} value={value} onChange={onChange} />;
  }
  return (
    <div>
      <p className="cap mb-1.5">{field.label}</p>
      {picks}
    </div>
  );
}

function Figure(props: { drawn: Drawn; onChange: (v: string) => void; error: string | undefined }) {
  const { field, value, hint } = props.drawn;
  const scale: Scale = usePerson().temperature;
  const bad = value !== "" && readNumber(value) === undefined && garbled(value);
  return (
    <NumberEntry
      label={field.label}
      unit={unitOf(field.unit ?? "", scale)}
      value={value}
      onChange={props.onChange}
      error={bad ? `“${value}” is not a number.` : props.error}
      hint={hint}
    />
  );
}

/** The ways of doing it, what to set, and the countdown while it is done. */
function Way({ station, entry }: { station: StationView; entry: Entry }) {
  const { by = "", ways = [] } = station.advice;
  const field = station.fields.find((f) => f.name === by);
  const way = wayOf(station, entry.values);
  if (!way) return null;
  const { timer } = way;
  // What a hazard forbids is not set up either.
  const set = station.advice.closed ? undefined : way.set;
  return (
    <div className="grid grid-cols-1 gap-x-7 gap-y-3 md:grid-cols-[288px_minmax(0,1fr)]">
      {set ? (
        <div className="md:row-span-2">
          <p className="cap">{set.caption}</p>
          <p className="border-b-[3px] border-line text-[64px] leading-[1.05] font-[760] tracking-tight">
            {set.value === undefined ? (
              "?"
            ) : (
              <>
                {set.value}
                <span className="unit">{set.unit}</span>
              </>
            )}
          </p>
          <p className="mt-1.5 text-[13.5px] leading-snug text-soft">
            {set.from}
            {set.note && <span className="block">{set.note}</span>}
          </p>
        </div>
      ) : (
        <p className="self-center text-[16px] md:row-span-2">{!station.advice.closed && way.do}</p>
      )}
      {field && (
        <div className="max-md:order-first md:col-start-2 md:row-start-1">
          <p className="cap mb-1.5">{field.label}</p>
          <PickOne
            label={field.label}
            chips={(field.choices ?? []).filter((c) => ways.some((w) => w.code === c.code))}
            value={way.code}
            onPick={(code) => entry.change({ [by]: code })}
          />
        </div>
      )}
      {timer && !station.advice.closed && (
        <div className="md:col-start-2 md:row-start-2">
          <Countdown seconds={timer.seconds} go={timer.go} stop={timer.stop} />
        </div>
      )}
    </div>
  );
}
