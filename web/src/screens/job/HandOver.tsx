import { useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, type Papers, type Reading, type Sheet, type StationView } from "../../lib/api";
import { useDraft } from "../../lib/draft";
import { say } from "../../lib/notices";
import { letterHere, printing, usePapers } from "../../lib/papers";
import { showSheet, useJobChange, usePerson } from "../../lib/queries";
import { onDay, when } from "../../lib/time";
import { Failure, Loading } from "../../parts/Failure";
import { PaperLink } from "../../parts/Paper";
import { Sign } from "../../parts/Sign";
import { useReopen } from "./HandedOver";
import { BeforeAndNow, ProofLine } from "./Outcome";
import { StationTitle } from "./Station";

type Props = { n: number; sheet: Sheet; station: StationView; go: (code: string) => void };

/** Where it goes back: the verdict, what is set again, the next date, the papers, and closing. */
export function HandOver({ n, sheet, station, go }: Props) {
  const papers = usePapers(sheet.job.id);
  return (
    <>
      <StationTitle n={n} name={station.name} hint={station.hint} sheet={sheet} />
      {sheet.outcome ? (
        <>
          <BeforeAndNow outcome={sheet.outcome} sheet={sheet} />
          <div className="mt-3 flex flex-wrap items-center gap-x-4">
            <ProofLine outcome={sheet.outcome} />
            {sheet.outcome.proof !== "proven" && !sheet.job.closed_at && (
              <button className="btn btn-line" onClick={() => go("prove")}>
                Prove it first
              </button>
            )}
          </div>
        </>
      ) : (
        <p className="flex items-baseline gap-3 text-[28px] leading-[1.1] font-[780]" style={{ fontStretch: "92%" }}>
          <Sign kind={sheet.level} size={20} />
          {sheet.headline}
        </p>
      )}
      {papers.isPending && <Loading what="its papers" />}
      {papers.isError && !papers.data && <Failure error={papers.error} retry={() => void papers.refetch()} />}
      {papers.data && <Going key={station.taken.at(-1)} sheet={sheet} station={station} papers={papers.data} />}
    </>
  );
}

type Where = "" | "done" | "left";

/** What was said last time it was handed over and not taken back. */
const lastSaid = (sheet: Sheet, station: StationView) =>
  sheet.readings.find((r) => r.id === station.taken.at(-1))?.reading as Record<string, unknown> | undefined;

/** It, or what is usual. */
function begins(sheet: Sheet, station: StationView, papers: Papers) {
  const last = lastSaid(sheet, station);
  const resets: Record<string, Where> = {};
  for (const code of papers.forgotten) resets[code] = "left";
  if (last) {
    for (const code of Object.keys(resets)) resets[code] = "";
    for (const code of (last.reset_done as string[] | undefined) ?? []) resets[code] = "done";
    for (const code of (last.reset_left as string[] | undefined) ?? []) resets[code] = "left";
  }
  return {
    resets,
    next: last ? ((last.next_check as string | undefined) ?? "") : (papers.next?.on ?? ""),
    told: (last?.told as string | undefined) ?? "",
  };
}

function Going({ sheet, station, papers }: Omit<Props, "n" | "go"> & { papers: Papers }) {
  const { id } = sheet.job;
  const closed = sheet.job.closed_at !== undefined;
  const [empty] = useState(() => begins(sheet, station, papers));
  const { draft, change, clear } = useDraft(`handover.${id}.${station.taken.at(-1) ?? ""}`, empty);
  const [more, setMore] = useState(!closed && Object.keys(empty.resets).length > 0);
  const close = useClosing(sheet, station, draft, clear);
  const nextID = useId();
  const toldID = useId();
  const shown = papers.resets.filter((r) => more || draft.resets[r.code]);
  return (
    <>
      <fieldset disabled={closed} className="mt-5 grid gap-x-8 gap-y-4 md:grid-cols-[minmax(0,1fr)_minmax(0,260px)]">
        <div>
          <p className="cap">What the vehicle forgot</p>
          {shown.length === 0 && (
            <p className="text-soft">
              {papers.forgotten.length === 0 ? "Nothing that anybody noted." : "Nothing is left to set."}
            </p>
          )}
          <ul className="max-w-[520px]">
            {shown.map((r) => (
              <li key={r.code} className="flex items-center gap-2 border-t border-line py-1">
                <span className="min-w-0 flex-1 font-[600]">{r.word}</span>
                <Half
                  on={draft.resets[r.code] === "done"}
                  word="Set here"
                  name={`${r.word}, set here`}
                  onPress={(on) => change({ resets: { ...draft.resets, [r.code]: on ? "done" : "" } })}
                />
                <Half
                  on={draft.resets[r.code] === "left"}
                  word="Owner sets"
                  name={`${r.word}, its owner sets it`}
                  onPress={(on) => change({ resets: { ...draft.resets, [r.code]: on ? "left" : "" } })}
                />
              </li>
            ))}
          </ul>
          {!more && !closed && (
            <button className="btn btn-quiet pl-0!" onClick={() => setMore(true)}>
              It forgot something
            </button>
          )}
        </div>
        <div>
          <label className="cap block" htmlFor={nextID}>
            Look at it again on
          </label>
          <input
            id={nextID}
            type="date"
            className="field text-[19px] font-[700]"
            value={draft.next}
            onChange={(e) => change({ next: e.target.value })}
          />
          {papers.next && (
            <p className="mt-1 text-[13.5px] leading-snug text-soft">
              {papers.next.why}
              {draft.next !== papers.next.on && (
                <button className="btn btn-quiet pl-0!" onClick={() => change({ next: papers.next!.on })}>
                  {onDay(`${papers.next.on}T12:00:00`)} was proposed
                </button>
              )}
            </p>
          )}
          <label className="cap mt-3 block" htmlFor={toldID}>
            Told at the counter
          </label>
          <input
            id={toldID}
            className="field"
            maxLength={300}
            value={draft.told}
            onChange={(e) => change({ told: e.target.value })}
          />
        </div>
      </fieldset>
      <Closing sheet={sheet} close={close} />
      <PapersOf
        sheet={sheet}
        station={station}
        papers={papers}
        left={Object.values(draft.resets).includes("left")}
        save={close.keep}
      />
    </>
  );
}

/** One of two that may be pressed, large enough for a glove. */
function Half(props: { on: boolean; word: string; name: string; onPress: (on: boolean) => void }) {
  return (
    <button
      aria-pressed={props.on}
      aria-label={props.name}
      className={`min-h-12 rounded-sm border-[1.5px] px-3 text-[15px] font-[560] ${props.on ? "border-ink bg-ink text-paper" : "border-line bg-card hover:border-soft"}`}
      onClick={() => props.onPress(!props.on)}
    >
      {props.word}
    </button>
  );
}

type Said = ReturnType<typeof begins>;

/** Keeps what was said, as far as it is new, and hands over. */
function useClosing(sheet: Sheet, station: StationView, said: Said & { id: string }, clear: () => void) {
  const queries = useQueryClient();
  const { id } = sheet.job;
  const was = lastSaid(sheet, station);
  const codes = (where: Where) =>
    Object.entries(said.resets)
      .filter(([, w]) => w === where)
      .map(([code]) => code);
  const reading: Record<string, unknown> = { kind: "handover" };
  if (codes("done").length > 0) reading.reset_done = codes("done");
  if (codes("left").length > 0) reading.reset_left = codes("left");
  if (said.next) reading.next_check = said.next;
  if (said.told.trim()) reading.told = said.told.trim();
  const fields = ["reset_done", "reset_left", "next_check", "told"] as const;
  const fresh = fields.some((f) => JSON.stringify(reading[f]) !== JSON.stringify(was?.[f]));
  const [error, setError] = useState<Error>();
  const [busy, setBusy] = useState(false);
  /** Keeps it; true when nothing is left to keep. */
  const keep = async (): Promise<boolean> => {
    if (!fresh || sheet.job.closed_at) return true;
    setBusy(true);
    setError(undefined);
    try {
      const next = await got(
        api.POST("/api/jobs/{id}/readings", {
          params: { path: { id } },
          body: { id: said.id || uuid(), reading: reading as Reading },
        }),
      );
      clear();
      showSheet(queries, next);
      void queries.invalidateQueries({ queryKey: ["job", id, "papers"] });
      return true;
    } catch (e) {
      setError(e as Error);
      return false;
    } finally {
      setBusy(false);
    }
  };
  return { keep, fresh, busy, error };
}

/** Hands it over; not while something is off, unless a lead says why. */
function Closing({ sheet, close }: { sheet: Sheet; close: ReturnType<typeof useClosing> }) {
  const { id } = sheet.job;
  const [reason, setReason] = useState("");
  const lead = usePerson().role === "lead";
  // What is off because it was put away holds nobody up.
  const missing = sheet.off.filter((p) => !p.stored);
  const off = missing.length > 0;
  const run = useJobChange(() =>
    got(
      api.POST("/api/jobs/{id}/close", {
        params: { path: { id } },
        ...(reason.trim() ? { body: { reason: reason.trim() } } : {}),
      }),
    ),
  );
  const reopen = useReopen(id);
  const press = async () => {
    if (!(await close.keep())) return;
    // What was kept draws this place anew: what comes now is told over it.
    await run.mutateAsync(undefined).then(
      () =>
        say({
          text: `${sheet.job.battery.tag} is handed over.`,
          kind: "ok",
          act: { word: "Undo", run: () => reopen.mutate(undefined) },
        }),
      (error: Error) => say({ text: `Not handed over. ${error.message}`, kind: "act" }),
    );
  };
  const error = close.error ?? run.error ?? reopen.error;
  const unproven = sheet.outcome !== undefined && sheet.outcome.proof !== "proven";
  return (
    <>
      {off && !sheet.job.closed_at && (
        <div className="mt-4 border-l-4 border-copper bg-card px-4 py-3">
          <p className="flex items-center gap-3 text-[18px] font-[680]">
            <Sign kind="act" bare /> Still off: {missing.map((p) => p.word).join(", ")}
          </p>
          <p className="mt-1 text-soft">
            {lead
              ? "Put it back, or say why it goes without."
              : "Put it back first; a lead can let it go with a reason."}
          </p>
          <div className="mt-2 flex flex-wrap gap-3">
            <Link className="btn" to={`/jobs/${missing[0]!.job_id}/guide/${missing[0]!.what}`}>
              Put it back
            </Link>
            {lead && (
              <input
                className="field max-w-[420px] flex-1"
                aria-label="Why it goes without"
                placeholder="Why it goes without"
                maxLength={300}
                value={reason}
                onChange={(e) => setReason(e.target.value)}
              />
            )}
          </div>
        </div>
      )}
      <div className="mt-5 flex flex-wrap items-center gap-3">
        {sheet.job.closed_at ? (
          <>
            <p className="font-[640]">
              Handed over {when(sheet.job.closed_at)} by {sheet.job.closed_by}.
            </p>
            <button className="btn btn-line" onClick={() => reopen.mutate(undefined)} disabled={reopen.isPending}>
              Open it again
            </button>
            <Link to="/" className="btn btn-quiet">
              To the floor
            </Link>
          </>
        ) : (
          <button
            className={`btn ${sheet.ready && !off && !unproven ? "btn-act" : "btn-line"}`}
            onClick={() => void press()}
            disabled={close.busy || run.isPending || (off && (!lead || reason.trim() === ""))}
          >
            {sheet.level === "ok" && !unproven ? "Hand over and close" : "Close the job"}
          </button>
        )}
        {!sheet.job.closed_at && close.fresh && (
          <button
            data-saves
            className="btn btn-quiet"
            disabled={close.busy}
            onClick={() =>
              void close.keep().then((ok) => ok && say({ text: "Kept. It is still in hand.", kind: "ok" }))
            }
          >
            Keep it, and hand over later
          </button>
        )}
        {error && (
          <span role="alert" className="text-oxide">
            {error.message}
          </span>
        )}
      </div>
    </>
  );
}

/** Everything that goes on paper, and into a calendar. */
function PapersOf(props: {
  sheet: Sheet;
  station: StationView;
  papers: Papers;
  left: boolean;
  save: () => Promise<boolean>;
}) {
  const { sheet, papers } = props;
  const { id } = sheet.job;
  const at = printing();
  const usual = papers.sheets.find((s) => (s.size === "Letter") === letterHere()) ?? papers.sheets[0]!;
  const [labels, setLabels] = useState(usual.code);
  const [from, setFrom] = useState(1);
  const on = papers.sheets.find((s) => s.code === labels) ?? usual;
  const places = on.across * on.down;
  const labelsAt = new URLSearchParams({ job: id, sheet: on.code, from: String(Math.min(from, places)) });
  const said = lastSaid(sheet, props.station);
  const tag = said ? said.reset_left !== undefined : papers.forgotten.length > 0;
  return (
    <section aria-label="Papers" className="mt-4 border-t border-line pt-3">
      <p className="cap mb-2">On paper</p>
      <div className="flex flex-wrap gap-3">
        <PaperLink to={`/api/jobs/${id}/report?${at}`}>Report</PaperLink>
        {tag && <PaperLink to={`/api/jobs/${id}/reset-tag?${at}`}>Tag for the mirror</PaperLink>}
        {(said?.next_check !== undefined || (sheet.job.promised_at && !sheet.job.closed_at)) && (
          <a className="btn btn-line" href={`/api/jobs/${id}/calendar`} download>
            Into a calendar
          </a>
        )}
        {props.left && !tag && (
          <button className="btn btn-quiet" onClick={() => void props.save()}>
            Keep it, then print the tag
          </button>
        )}
      </div>
      <div className="mt-3 flex flex-wrap items-end gap-3">
        <PaperLink to={`/api/labels?${labelsAt}&${at}`}>Labels</PaperLink>
        <label className="block">
          <span className="cap block">Sheet of labels</span>
          <select className="field w-auto" value={on.code} onChange={(e) => setLabels(e.target.value)}>
            {papers.sheets.map((s) => (
              <option key={s.code} value={s.code}>
                {s.name}
              </option>
            ))}
          </select>
        </label>
        <label className="block w-[110px]">
          <span className="cap block">From place</span>
          <input
            className="field"
            type="number"
            min={1}
            max={places}
            value={from}
            onChange={(e) => setFrom(Math.max(1, Math.min(places, Math.round(Number(e.target.value)) || 1)))}
          />
        </label>
      </div>
    </section>
  );
}
