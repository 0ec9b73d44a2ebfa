import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ScanLine } from "lucide-react";
import { useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, type Round, type RoundStop, type StoredLine } from "../../lib/api";
import { useWaiting } from "../../lib/outbox";
import { showStored, useRound, useSeason } from "../../lib/queries";
import { readNumber } from "../../lib/units";
import { Failure, Loading } from "../../parts/Failure";
import { Keypad, stroke } from "../../parts/NumberEntry";
import { Sign } from "../../parts/Sign";
import { inkOf, onDate } from "./scale";
import { useLook } from "./useLook";

const signs = { test: "act", charge: "act", swap: "stop", look: "wait" } as const;

/** This week's round over a lot, in the order it is walked: one hand, with a line or without. */
export function RoundWalk() {
  const [params] = useSearchParams();
  const lot = params.get("lot") ?? "";
  const [chargers, setChargers] = useState(4);
  const [minutes, setMinutes] = useState(90);
  const round = useRound(lot, chargers, minutes);
  const season = useSeason();
  if (round.isPending) return <Loading what="the round" />;
  if (!round.data) return <Failure error={round.error} retry={() => void round.refetch()} />;
  return (
    <Walk
      key={lot}
      round={round.data}
      today={season.data?.today ?? round.data.date}
      lines={season.data?.stored.filter((l) => (l.lot ?? "") === lot) ?? []}
      chargers={chargers}
      minutes={minutes}
      setChargers={setChargers}
      setMinutes={setMinutes}
    />
  );
}

type Item = { id: string; stop: RoundStop | undefined; line: StoredLine };

function Walk(props: {
  round: Round;
  today: string;
  lines: StoredLine[];
  chargers: number;
  minutes: number;
  setChargers: (n: number) => void;
  setMinutes: (n: number) => void;
}) {
  const { round, today } = props;
  // The round stands while it is walked: what is done stays in its place.
  const [walk, setWalk] = useState<Item[]>(() => itemsOf(round));
  const [at, setAt] = useState<string>();
  const waiting = useWaiting();
  const seen = new Map(waiting.filter((w) => w.look && !w.refused).map((w) => [w.look!.stored, w]));
  const [saved, setSaved] = useState<Record<string, string>>({});
  const fresh = (id: string) => props.lines.find((l) => l.id === id);
  const doneWith = (i: Item) => {
    const kept = seen.get(i.id);
    if (kept) return `${kept.text}, on this device`;
    if (saved[i.id]) return saved[i.id];
    const line = fresh(i.id);
    return line?.looked_on === today ? "looked at today" : undefined;
  };
  const open = walk.find((i) => i.id === at) ?? walk.find((i) => !doneWith(i));
  const done = walk.filter((i) => doneWith(i)).length;
  const next = () => {
    const from = walk.findIndex((i) => i.id === open?.id);
    const rest = [...walk.slice(from + 1), ...walk.slice(0, from)];
    setAt(rest.find((i) => !doneWith(i))?.id);
  };
  const found = (tag: string) => {
    const same = (l: StoredLine) => l.tag.toLowerCase() === tag.trim().toLowerCase();
    const here = walk.find((i) => same(i.line));
    if (here) {
      setAt(here.id);
      return true;
    }
    const line = props.lines.find(same) ?? Object.values(round.lines).find(same);
    if (!line) return false;
    setWalk([...walk, { id: line.id, stop: undefined, line }]);
    setAt(line.id);
    return true;
  };
  return (
    <div className="mx-auto max-w-[1100px] px-4 py-3 md:px-6">
      <div className="flex flex-wrap items-end justify-between gap-x-6 gap-y-1">
        <div>
          <Link to="/season" className="cap underline underline-offset-4">
            Season
          </Link>
          <h1 tabIndex={-1} className="tight text-[28px] leading-[1.1] font-[780] outline-none md:text-[34px]">
            {round.lot || "By itself"}: {walk.length === 0 ? "nothing this week" : `${done} of ${walk.length}`}
          </h1>
        </div>
        <p className="text-soft">
          about {round.minutes} min on foot
          {round.nights > 1 ? `, ${round.nights} nights of charging` : ""}
        </p>
      </div>
      <div className="md:grid md:grid-cols-[minmax(0,1fr)_380px] md:gap-8">
        <div className="order-2 min-w-0">
          {open ? (
            <At
              key={open.id}
              item={open}
              done={doneWith(open)}
              onSaved={(how) => {
                setSaved((s) => ({ ...s, [open.id]: how }));
                next();
              }}
              onNext={next}
            />
          ) : (
            walk.length > 0 && (
              <p className="mt-4 flex items-center gap-2 text-[20px] font-[700] text-verdigris" role="status">
                <Sign kind="ok" /> The round is walked.
              </p>
            )
          )}
          <Scan onTag={found} />
        </div>
        <div className="order-1 min-w-0">
          <ol className="mt-3 border-b border-line" aria-label="In the order it is walked">
            {walk.map((i, k) => (
              <StopRow
                key={i.id}
                item={i}
                n={k + 1}
                on={i.id === open?.id}
                done={doneWith(i)}
                row={i.line.row !== walk[k - 1]?.line.row ? i.line.row : undefined}
                onOpen={() => setAt(i.id)}
              />
            ))}
          </ol>
          {round.later.length > 0 && (
            <details className="mt-3">
              <summary className="flex min-h-12 cursor-pointer items-center font-[600]">
                {round.later.length} later this week
              </summary>
              <ul className="border-b border-line">
                {round.later.map((s) => (
                  <li key={s.id} className="flex min-h-11 items-center gap-3 border-t border-line">
                    <b className="w-[72px] font-[680]">{round.lines[s.id]?.tag}</b>
                    <span className="text-soft">{s.text}</span>
                    {s.late_days ? <b className="ml-auto text-oxide">{s.late_days} days late</b> : null}
                  </li>
                ))}
              </ul>
            </details>
          )}
          <fieldset className="mt-4 flex flex-wrap items-center gap-3">
            <legend className="cap">What there is for it</legend>
            <Count word="chargers an evening" value={props.chargers} step={1} onChange={props.setChargers} />
            <Count word="minutes" value={props.minutes} step={15} onChange={props.setMinutes} />
            {done === 0 && (
              <button className="btn btn-line" onClick={() => setWalk(itemsOf(round))}>
                Lay it out anew
              </button>
            )}
          </fieldset>
          {round.spares.length > 0 && <p className="mt-2 text-soft">Charged spares: {round.spares.join(", ")}.</p>}
        </div>
      </div>
    </div>
  );
}

const itemsOf = (round: Round): Item[] =>
  round.stops.flatMap((stop) => {
    const line = round.lines[stop.id];
    return line ? [{ id: stop.id, stop, line }] : [];
  });

function StopRow(p: {
  item: Item;
  n: number;
  on: boolean;
  done: string | undefined;
  row: string | undefined;
  onOpen: () => void;
}) {
  const { stop, line } = p.item;
  return (
    <li>
      {p.row !== undefined && <p className="cap pt-2 pb-1">Row {p.row || "without name"}</p>}
      <button
        onClick={p.onOpen}
        aria-current={p.on || undefined}
        className={`grid min-h-14 w-full grid-cols-[26px_18px_minmax(0,1fr)_auto] items-center gap-x-2.5 border-t border-line px-1.5 text-left ${p.on ? "bg-card shadow-[inset_4px_0_var(--copper)]" : "hover:bg-hush"}`}
      >
        <span className="pl-1.5 text-[15px] font-[700] text-soft">{line.bay ?? p.n}</span>
        <Sign kind={p.done ? "ok" : stop ? signs[stop.do] : "wait"} bare />
        <span className="min-w-0 py-1">
          <b className="tight block truncate text-[16px] font-[700]">
            {line.tag} <span className="font-[500] text-soft">{line.vehicle}</span>
          </b>
          <span className="block truncate text-[13.5px] text-soft">{p.done ?? stop?.text ?? "found on the way"}</span>
        </span>
        {!p.done && stop && <span className="text-[13.5px] font-[640]">{onDate(stop.due)}</span>}
      </button>
    </li>
  );
}

/** The vehicle one stands before: a figure, a keypad, and on to the next. */
function At({
  item,
  done,
  onSaved,
  onNext,
}: {
  item: Item;
  done: string | undefined;
  onSaved: (how: string) => void;
  onNext: () => void;
}) {
  const { stop, line } = item;
  const { save } = useLook(line.id, line.tag);
  const queries = useQueryClient();
  const [volts, setVolts] = useState("");
  const number = readNumber(volts);
  const [id] = useState(() => uuid()); // of the entry a swap makes, also where it is sent again
  const swap = useMutation({
    mutationFn: (tag: string) =>
      got(api.POST("/api/season/{id}/swap", { params: { path: { id: line.id } }, body: { id, tag } })),
    onSuccess: (body, tag) => {
      showStored(queries, body);
      onSaved(`${tag} is in`);
    },
  });
  const keep = (seen: { rest_volts?: number; charged?: boolean }, how: string) =>
    save.mutate(seen, {
      onSuccess: () => {
        onSaved(how);
        void queries.invalidateQueries({ queryKey: ["season"] });
      },
    });
  return (
    <section
      aria-label={`${line.tag}, ${line.vehicle}`}
      className="mt-3 border-[1.5px] border-ink bg-card p-3 md:sticky md:top-16"
    >
      <div className="flex items-baseline justify-between gap-3">
        <p className="tight text-[30px] leading-none font-[800]">{line.tag}</p>
        <p className="text-[20px] font-[700] whitespace-nowrap">
          {line.row}
          {line.bay}
        </p>
      </div>
      <p className="text-soft">{line.vehicle}</p>
      {stop && (
        <p
          className={`mt-1.5 text-[18px] leading-snug font-[700] ${inkOf[stop.do === "look" ? "holds" : stop.do === "swap" ? "stop" : "act"]}`}
        >
          {stop.text}
        </p>
      )}
      {stop && <p className="text-[14px] text-soft">{stop.why}</p>}
      {done && <p className="mt-1 font-[650] text-verdigris">{done}</p>}
      {stop?.do === "swap" && !done && (
        <button className="btn mt-2 w-full" disabled={swap.isPending} onClick={() => swap.mutate(stop.spare!)}>
          {swap.isPending ? "Saving …" : `${stop.spare} is in`}
        </button>
      )}
      <label className="mt-2 block">
        <span className="cap">Rest volts</span>
        <span className="flex items-baseline border-b-[3px] border-copper">
          <input
            className="w-full min-w-0 bg-transparent text-[52px] leading-[1.05] font-[760] tracking-tight outline-none"
            aria-label="Rest volts"
            inputMode="none"
            value={volts}
            onChange={(e) => setVolts(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Enter" && number !== undefined) {
                e.preventDefault();
                keep({ rest_volts: number }, `${number} V`);
              }
            }}
          />
          <span className="text-[26px] text-soft">V</span>
        </span>
      </label>
      <Keypad label="Rest volts" onPress={(key) => setVolts(stroke(volts, key))} />
      {(save.error ?? swap.error) && (
        <p role="alert" className="mt-2 font-[560] text-oxide">
          {(save.error ?? swap.error)?.message}
        </p>
      )}
      <div className="mt-2 grid grid-cols-2 gap-2">
        <button
          className="btn btn-act col-span-2"
          data-saves
          disabled={number === undefined || save.isPending}
          onClick={() => keep({ rest_volts: number! }, `${number} V`)}
        >
          Save, and on
        </button>
        <button
          className="btn btn-line px-2!"
          disabled={save.isPending}
          onClick={() => keep({ charged: true }, "charged full")}
        >
          It is full
        </button>
        <button className="btn btn-line px-2!" onClick={onNext}>
          Pass by
        </button>
      </div>
      <Link
        className="mt-1 flex min-h-11 items-center text-soft underline underline-offset-4"
        to={`/season/${line.id}`}
      >
        Its season
      </Link>
    </section>
  );
}

/** A tag scanned or typed goes to its vehicle. */
function Scan({ onTag }: { onTag: (tag: string) => boolean }) {
  const [tag, setTag] = useState("");
  const [missed, setMissed] = useState("");
  const field = useRef<HTMLInputElement>(null);
  return (
    <form
      className="mt-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (!tag.trim()) return;
        setMissed(onTag(tag) ? "" : tag);
        setTag("");
        field.current?.focus();
      }}
    >
      <label className="flex items-center gap-2">
        <ScanLine size={20} aria-hidden className="shrink-0 text-soft" />
        <input
          ref={field}
          className="field"
          placeholder="scan or type a tag"
          aria-label="Scan or type a tag"
          value={tag}
          onChange={(e) => setTag(e.target.value)}
          autoCapitalize="characters"
          autoComplete="off"
        />
      </label>
      {missed && (
        <p role="alert" className="mt-1 font-[560] text-oxide">
          {missed} does not stand on this lot.
        </p>
      )}
    </form>
  );
}

function Count(p: { word: string; value: number; step: number; onChange: (n: number) => void }) {
  const button = "flex h-12 w-12 items-center justify-center rounded-sm border-[1.5px] border-line bg-card text-[24px]";
  return (
    <span className="flex items-center gap-2">
      <button
        type="button"
        className={button}
        aria-label={`Fewer ${p.word}`}
        onClick={() => p.onChange(Math.max(p.step, p.value - p.step))}
      >
        −
      </button>
      <b className="min-w-8 text-center text-[20px] font-[720]">{p.value}</b>
      <button
        type="button"
        className={button}
        aria-label={`More ${p.word}`}
        onClick={() => p.onChange(p.value + p.step)}
      >
        +
      </button>
      <span className="text-soft">{p.word}</span>
    </span>
  );
}
