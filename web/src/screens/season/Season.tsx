import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Footprints, MapPin, Plus } from "lucide-react";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { api, got, table, type SeasonBody, type StoredLine } from "../../lib/api";
import { say } from "../../lib/notices";
import { useNarrow } from "../../lib/pointer";
import { usePerson, useSeason, useStored } from "../../lib/queries";
import { riseIn } from "../../lib/units";
import { Failure, Loading } from "../../parts/Failure";
import { PickFile } from "../../parts/PickFile";
import { Sign } from "../../parts/Sign";
import { Mini, ofLine } from "./Mini";
import { One } from "./One";
import { inkOf, toneOf } from "./scale";

/** So many of a list are drawn at first. */
const FIRST = 40;

/** What stands: the worst first, and one of them with its winter. */
export function Season() {
  const season = useSeason();
  const { id } = useParams();
  const narrow = useNarrow();
  if (season.isPending) return <Loading what="the season" />;
  if (!season.data) return <Failure error={season.error} retry={() => void season.refetch()} />;
  const all = season.data.stored;
  if (all.length === 0 && !id) return <Nothing season={season.data} />;
  const open = id ?? (narrow ? undefined : (all.find((l) => !l.lot)?.id ?? all[0]?.id));
  return (
    <div className="md:grid md:grid-cols-[312px_minmax(0,1fr)]">
      {!(narrow && id) && <List season={season.data} open={open} />}
      {open && (
        <div className="min-w-0 px-4 py-3 md:px-6">
          {narrow && (
            <Link to="/season" className="btn btn-quiet -ml-2 mb-1">
              All that stands
            </Link>
          )}
          <Shown key={open} id={open} season={season.data} />
        </div>
      )}
    </div>
  );
}

function Shown({ id, season }: { id: string; season: SeasonBody }) {
  const stored = useStored(id);
  if (stored.isPending) return <Loading what="its season" />;
  if (!stored.data) return <Failure error={stored.error} retry={() => void stored.refetch()} />;
  return <One body={stored.data} season={season} />;
}

function Nothing({ season }: { season: SeasonBody }) {
  return (
    <div className="mx-auto max-w-[720px] px-4 py-10">
      <p className="cap">Season</p>
      <h1 className="tight text-[34px] leading-[1.1] font-[780]">Nothing stands here yet.</h1>
      <p className="mt-2 text-soft">
        Mowers, motorcycles, a coupé under its cover, a yard of new vehicles: put one away, and this place says what it
        needs to come back alive, with dates, and keeps watch.
      </p>
      <div className="mt-5 flex flex-wrap gap-3">
        <Link className="btn btn-act" to="/season/new">
          Put one away
        </Link>
        <Link className="btn btn-line" to="/season/place">
          {season.place.typed ? "The place" : "Say how cold it gets here"}
        </Link>
        <Yard lot="" />
      </div>
    </div>
  );
}

function List({ season, open }: { season: SeasonBody; open: string | undefined }) {
  const [lot, setLot] = useState(() => (season.stored.some((l) => !l.lot) ? "" : (season.lots[0] ?? "")));
  const [shown, setShown] = useState(FIRST);
  const all = season.stored.filter((l) => (l.lot ?? "") === lot);
  const others = season.lots.map((name) => ({ name, lines: season.stored.filter((l) => l.lot === name) }));
  const frost = season.stored.filter((l) => l.now.frost);
  return (
    <aside aria-label="What stands" className="screen-only border-line md:border-r">
      <div className="flex flex-wrap gap-2 px-4 pt-3">
        <Link className="btn btn-line px-3!" to="/season/new">
          <Plus size={18} aria-hidden /> Put away
        </Link>
        <Link className="btn btn-line px-3!" to="/season/place" aria-label="The place and its forecast">
          <MapPin size={18} aria-hidden /> Place
        </Link>
      </div>
      {!season.place.typed && (
        <p className="mx-4 mt-3 border-l-4 border-copper bg-card px-3 py-2 text-[14px]">
          Nobody has typed how cold it gets here: a cold upland valley stands in.
        </p>
      )}
      {frost.length > 0 && (
        <p className="mx-4 mt-3 flex gap-2 border-l-4 border-oxide bg-card px-3 py-2 font-[640]" role="status">
          <span className="mt-0.5">
            <Sign kind="stop" bare />
          </span>
          Frost:{" "}
          {frost
            .map((l) => l.tag)
            .slice(0, 4)
            .join(", ")}
          {frost.length > 4 ? ` and ${frost.length - 4} more` : ""}
        </p>
      )}
      {others.length > 0 && (
        <div className="mt-3 flex flex-wrap gap-x-4 border-y border-line px-4" role="group" aria-label="Where">
          {["", ...season.lots].map((name) => (
            <button
              key={name}
              aria-pressed={lot === name}
              onClick={() => setLot(name)}
              className={`min-h-12 border-b-[3px] font-[600] ${lot === name ? "border-copper" : "border-transparent text-soft"}`}
            >
              {name || "By itself"}{" "}
              <span className="text-soft">
                {name ? others.find((o) => o.name === name)!.lines.length : season.stored.filter((l) => !l.lot).length}
              </span>
            </button>
          ))}
        </div>
      )}
      {lot && (
        <div className="px-4 py-3">
          <Link className="btn w-full" to={`/season/round?lot=${encodeURIComponent(lot)}`}>
            <Footprints size={18} aria-hidden /> This week’s round
          </Link>
        </div>
      )}
      <p className="cap flex justify-between px-4 pt-2 pb-1.5">
        <span>{all.length} put away, worst first</span>
        <span>to spare</span>
      </p>
      <ul>
        {all.slice(0, shown).map((l) => (
          <li key={l.id} className="border-t border-line">
            <Row line={l} on={l.id === open} />
          </li>
        ))}
      </ul>
      {all.length > shown && (
        <button className="btn btn-line m-4" onClick={() => setShown(shown + 200)}>
          {all.length - shown} more
        </button>
      )}
      <Tables lot={lot} onTaken={setLot} />
    </aside>
  );
}

/** A yard comes from a table, and what stands goes into one. */
function Tables({ lot, onTaken }: { lot: string; onTaken: (lot: string) => void }) {
  return (
    <div className="flex flex-wrap gap-2 border-t border-line px-4 py-3">
      <Yard lot={lot} onTaken={onTaken} />
      <a className="btn btn-quiet" href="/api/season/csv" download>
        All as a table
      </a>
    </div>
  );
}

// A lot's name is of 40 characters at most.
const lotOf = (file: File) =>
  file.name
    .replace(/\.[^.]*$/, "")
    .slice(0, 40)
    .trim();

/** A yard from a table: its lot is the one that is shown, or is named after the file. */
function Yard({ lot, onTaken }: { lot: string; onTaken?: (lot: string) => void }) {
  const queries = useQueryClient();
  const take = useMutation({
    mutationFn: async (file: File) =>
      got(
        api.POST("/api/season/csv", {
          params: { query: { lot: lot || lotOf(file) } },
          ...(await table(file)),
        }),
      ),
    onSuccess: (body, file) => {
      queries.setQueryData(["season"], body);
      const into = lot || lotOf(file);
      if (body.lots.includes(into)) onTaken?.(into); // its lines may name lots of their own
      say({ text: `${body.stored.length} stand now.`, kind: "ok" });
    },
  });
  return (
    <>
      <PickFile
        word="A yard from a table"
        label="A table of batteries: chemistry, and tag, vehicle, class, ah_20h, row, bay, promised, arrived where known"
        accept=".csv,text/csv"
        busy={take.isPending}
        onFile={(f) => take.mutate(f)}
      />
      {take.error && (
        <p role="alert" className="order-last basis-full whitespace-pre-line text-oxide">
          {take.error.message}
        </p>
      )}
    </>
  );
}

function Row({ line: l, on }: { line: StoredLine; on: boolean }) {
  const scale = usePerson().temperature;
  return (
    <Link
      to={`/season/${l.id}`}
      aria-current={on || undefined}
      className={`grid min-h-[72px] grid-cols-[16px_minmax(0,1fr)_66px_42px] items-center gap-x-2.5 py-1 pr-4 pl-4 ${on ? "bg-card shadow-[inset_4px_0_var(--copper)]" : "hover:bg-hush"}`}
    >
      <Sign kind={toneOf[l.now.sign]} />
      <span className="min-w-0">
        <span className="tight block truncate text-[15px] leading-[1.2] font-[720]">{l.vehicle || l.tag}</span>
        <span className="block text-[13px] leading-[1.25] text-soft">
          {l.tag}
          {l.row ? `, ${l.row}${l.bay ?? ""}` : ""}
        </span>
        <span className={`tight line-clamp-2 text-[13px] leading-[1.25] font-[620] ${inkOf[l.now.sign]}`}>
          {l.now.says}
        </span>
      </span>
      <Mini {...ofLine(l.now)} width={66} height={46} />
      <span className="text-right text-[23px] leading-none font-[780] tracking-tight">
        {Math.max(0, Math.floor(riseIn(l.now.state.spare_c, scale)))}
        <span className="align-[0.36em] text-[14px] font-[650] text-soft">°</span>
      </span>
    </Link>
  );
}
