import { useMutation, useQueryClient } from "@tanstack/react-query";
import { GripVertical } from "lucide-react";
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { api, got, Refused, type Bank, type WaitingView } from "../../lib/api";
import { say } from "../../lib/notices";
import { atTime, otherDay, span } from "../../lib/time";
import { Sign } from "../../parts/Sign";
import type { Place } from "./place";

type Row = { job_id: string; charger_id?: string };
type Props = { bank: Bank; open: (to: Place) => void; job: string | undefined };

const rowsOf = (bank: Bank): Row[] =>
  bank.waiting.map((w) => ({ job_id: w.job_id, ...(w.chosen && w.charger_id ? { charger_id: w.charger_id } : {}) }));

/** What waits for a charger, in the order it is hung; dragged, or moved by keys, it stays as it was put. */
export function Waiting({ bank, open, job }: Props) {
  const { waiting } = bank;
  const queries = useQueryClient();
  const list = useRef<HTMLOListElement>(null);
  const [drag, setDrag] = useState<{ job: string; to: number; over?: string }>();
  const [spoken, setSpoken] = useState("");
  const order = useMutation({
    mutationFn: (jobs: Row[] | undefined) =>
      got(api.PUT("/api/bank/order", { body: { version: bank.version, ...(jobs ? { jobs } : {}) } })),
    // What it was is known before it is sent: the news of the change may come ahead of the answer.
    onMutate: () => (bank.own ? rowsOf(bank) : undefined),
    onSuccess: (now, jobs, before) => {
      queries.setQueryData(["bank"], now);
      say({
        text: jobs ? `Your order is kept: ${now.kept} of ${now.promises} promises.` : "Back to the order proposed.",
        kind: "ok",
        act: {
          word: "Undo",
          run: () =>
            void got(
              api.PUT("/api/bank/order", { body: { version: now.version, ...(before ? { jobs: before } : {}) } }),
            ).then(
              (was) => queries.setQueryData(["bank"], was),
              (error: Error) => say({ text: `Not undone. ${error.message}`, kind: "act" }),
            ),
        },
      });
    },
    onError: (error) => {
      void queries.invalidateQueries({ queryKey: ["bank"] });
      const text =
        error instanceof Refused && error.status === 409
          ? "Somebody changed the bank meanwhile: look again."
          : error.message;
      say({ text: `Not moved. ${text}`, kind: "act" });
    },
  });
  const move = (id: string, to: number, charger?: string | null) => {
    const rows = rowsOf(bank);
    const from = rows.findIndex((r) => r.job_id === id);
    const [row] = rows.splice(from, 1);
    if (!row) return;
    if (charger === null) delete row.charger_id;
    else if (charger) row.charger_id = charger;
    rows.splice(Math.max(0, Math.min(rows.length, to)), 0, row);
    order.mutate(rows);
  };
  const keys = (event: KeyboardEvent, w: WaitingView, at: number) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const named = bank.chargers.find((c) => c.unit.name === event.key);
    if (event.key === "ArrowUp" && at > 0) move(w.job_id, at - 1);
    else if (event.key === "ArrowDown" && at < waiting.length - 1) move(w.job_id, at + 1);
    else if (event.key === "Home") move(w.job_id, 0);
    else if (event.key === "End") move(w.job_id, waiting.length - 1);
    else if ((event.key === "Delete" || event.key === "0") && w.chosen) move(w.job_id, at, null);
    else if (named && !w.suits.includes(named.id)) setSpoken(`${w.tag} does not suit charger ${named.unit.name}.`);
    else if (named) move(w.job_id, at, named.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const pointer = (w: WaitingView, at: number) => ({
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      setDrag({ job: w.job_id, to: at });
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => {
      if (drag?.job !== w.job_id) return;
      setDrag({ job: w.job_id, ...landing(list.current, e.clientX, e.clientY, at) });
    },
    onPointerUp: (e: PointerEvent<HTMLElement>) => {
      if (drag?.job !== w.job_id) return;
      setDrag(undefined);
      // Where it is let go, which need not have been drawn yet.
      const lands = landing(list.current, e.clientX, e.clientY, at);
      if (lands.over && !w.suits.includes(lands.over))
        return say({ text: `${w.tag} is not for that charger: ${w.why}`, kind: "act" });
      if (lands.over) move(w.job_id, at, lands.over);
      else if (lands.to !== at) move(w.job_id, lands.to);
    },
    onPointerCancel: () => setDrag(undefined),
  });
  return (
    <section aria-label="Waiting for a charger">
      <p className="cap">{bank.own ? "Waiting, in your order" : "Waiting, best order"}</p>
      <p role="status" className="sr-only">
        {spoken}
      </p>
      {waiting.length === 0 && <p className="mt-1 text-soft">Nothing waits for a charger.</p>}
      <ol ref={list} className={`mt-1 ${order.isPending ? "opacity-60" : ""}`}>
        {waiting.map((w, i) => (
          <li
            key={w.job_id}
            data-waiting={w.job_id}
            className={`flex items-stretch border-t ${drag && !drag.over && drag.to === i && drag.job !== w.job_id ? "border-copper border-t-[3px]" : "border-line"} ${drag?.job === w.job_id ? "bg-hush" : ""} ${job === w.job_id ? "bg-card" : ""}`}
          >
            <button
              className="w-11 shrink-0 cursor-grab touch-none text-soft hover:bg-hush"
              aria-label={`${i + 1}, move ${w.tag}: up and down keys; a charger's name puts it there, 0 anywhere`}
              aria-keyshortcuts="ArrowUp ArrowDown"
              data-move={w.tag}
              onKeyDown={(e) => keys(e, w, i)}
              {...pointer(w, i)}
            >
              <b className="block text-[19px] leading-none font-[760] text-ink">{i + 1}</b>
              <GripVertical size={18} aria-hidden className="mx-auto mt-1" />
            </button>
            <button
              className="min-w-0 flex-1 py-2 pr-1 text-left hover:bg-hush"
              onClick={() => open({ ...(w.charger_id ? { charger: w.charger_id } : {}), job: w.job_id })}
            >
              <WaitingRow w={w} bank={bank} />
            </button>
          </li>
        ))}
      </ol>
      {bank.promises > 0 && <Kept bank={bank} />}
      {bank.own && (
        <button className="btn btn-line mt-2 w-full" disabled={order.isPending} onClick={() => order.mutate(undefined)}>
          Back to the order proposed
        </button>
      )}
    </section>
  );
}

/** Where what is dragged would land: before which row, or on which charger. */
function landing(list: HTMLOListElement | null, x: number, y: number, from: number): { to: number; over?: string } {
  const charger = document.elementFromPoint(x, y)?.closest<HTMLElement>("[data-charger]");
  if (charger) return { to: from, over: charger.dataset.charger! };
  const rows = [...(list?.children ?? [])].map((r) => r.getBoundingClientRect());
  const to = rows.filter((r, i) => i !== from && y > r.top + r.height / 2).length;
  return { to };
}

function WaitingRow({ w, bank }: { w: WaitingView; bank: Bank }) {
  const charger = bank.chargers.find((c) => c.id === w.charger_id);
  const from = w.from ? Date.parse(w.from) : 0;
  const now = from <= Date.parse(bank.now) + 60_000;
  return (
    <>
      <span className="flex min-w-0 items-baseline gap-1.5">
        <b className="tight shrink-0 text-[17px] font-[760]">{w.tag}</b>
        <span className="min-w-0 truncate text-[14px] text-soft">{w.vehicle}</span>
      </span>
      {charger && (
        <span className="block text-[14.5px] leading-snug font-[600]">
          {now ? "Now" : `${otherDay(from)}${atTime(from)}`} on {charger.unit.name}
          {w.after ? `, once ${w.after} is off` : ""}: {span((w.minutes ?? 0) * 60_000)}
          {w.full_at && `, full ${otherDay(Date.parse(w.full_at))}${atTime(w.full_at)}`}
        </span>
      )}
      <span
        className={`flex items-start gap-1.5 text-[13.5px] leading-snug ${w.late_minutes || !charger ? "text-copper" : "text-soft"}`}
      >
        {(w.late_minutes !== undefined || !charger) && (
          <span className="mt-0.5">
            <Sign kind="act" size={13} bare />
          </span>
        )}
        <span>
          {w.promised_at && `For ${otherDay(Date.parse(w.promised_at))}${atTime(w.promised_at)}. `}
          {w.why}
        </span>
      </span>
    </>
  );
}

function Kept({ bank }: { bank: Bank }) {
  const worse = bank.own && (bank.kept < bank.best || bank.late_minutes > bank.best_late_minutes);
  return (
    <p className="mt-2 border-t border-line pt-2 text-[14.5px] leading-snug">
      <b className="font-[700]">
        Keeps {bank.kept} of {bank.promises} {bank.promises === 1 ? "promise" : "promises"}.
      </b>{" "}
      {worse
        ? `The order proposed keeps ${bank.best}${bank.late_minutes > bank.best_late_minutes ? `, ${span((bank.late_minutes - bank.best_late_minutes) * 60_000)} less late` : ""}.`
        : bank.first_come < bank.kept && `First come, first served keeps ${bank.first_come}.`}
    </p>
  );
}
