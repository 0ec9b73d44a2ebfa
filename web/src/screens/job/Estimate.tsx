import { useQuery, keepPreviousData } from "@tanstack/react-query";
import { Minus, Plus, X } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, type Estimate as Doc, type Papers, type Sheet } from "../../lib/api";
import { useDraft } from "../../lib/draft";
import { say } from "../../lib/notices";
import { usePaperChange, usePapers } from "../../lib/papers";
import { useSettled } from "../../lib/settled";
import { when } from "../../lib/time";
import { readNumber, showNumber } from "../../lib/units";
import { Sign, tone } from "../../parts/Sign";

/** What it will cost, before the work: made from the price list, said to who pays, answered. */
export function Estimate({ sheet }: { sheet: Sheet }) {
  const papers = usePapers(sheet.job.id);
  const [editing, setEditing] = useState(false);
  if (!papers.data) return null;
  const stands = papers.data.estimates[0];
  const closed = sheet.job.closed_at !== undefined;
  if (closed && !stands) return null;
  return (
    <section aria-label="What it costs" className="mt-5">
      <p className="cap">What it costs</p>
      {editing ? (
        <Edit
          key={stands?.id}
          id={sheet.job.id}
          from={stands?.doc ?? papers.data.proposed}
          priced={papers.data.priced}
          onDone={() => setEditing(false)}
        />
      ) : stands ? (
        <Stands
          id={sheet.job.id}
          of={stands}
          customer={sheet.job.customer ?? ""}
          closed={closed}
          edit={() => setEditing(true)}
        />
      ) : (
        <p className="mt-1.5">
          <button className="btn btn-line" onClick={() => setEditing(true)}>
            Make an estimate
          </button>
        </p>
      )}
    </section>
  );
}

function Stands(props: {
  id: string;
  of: Papers["estimates"][number];
  customer: string;
  closed: boolean;
  edit: () => void;
}) {
  const { id, of, closed } = props;
  const [name, setName] = useState(props.customer);
  const [other, setOther] = useState(false);
  const answer = usePaperChange(id, (accepted: boolean) =>
    got(
      api.POST("/api/jobs/{id}/estimates/{estimate}/answers", {
        params: { path: { id, estimate: of.id } },
        body: { id: uuid(), accepted, name: name.trim() },
      }),
    ),
  );
  const tell = (accepted: boolean) =>
    answer.mutate(accepted, {
      onSuccess: () => {
        setOther(false);
        say({ text: accepted ? "Accepted." : "Declined.", kind: accepted ? "ok" : "act" });
      },
    });
  const asking = !closed && (!of.answer || other);
  return (
    <>
      <table className="mt-1 w-full max-w-[560px]">
        <tbody>
          {of.doc.lines.map((l, i) => (
            <tr key={i} className="border-t border-line">
              <td className="py-1.5">
                {l.count > 1 && `${l.count} × `}
                {l.text}
              </td>
              <td className="py-1.5 text-right font-[640] whitespace-nowrap">{of.said.lines[i]}</td>
            </tr>
          ))}
          {of.doc.tax_pct > 0 && (
            <tr className="border-t border-line text-soft">
              <td className="py-1">Tax, {of.doc.tax_pct} %</td>
              <td className="py-1 text-right whitespace-nowrap">{of.said.tax}</td>
            </tr>
          )}
          <tr className="border-y-[1.5px] border-ink">
            <td className="py-1.5 font-[700]">Total</td>
            <td className="py-1.5 text-right text-[22px] font-[780] whitespace-nowrap">{of.said.all}</td>
          </tr>
        </tbody>
      </table>
      {of.answer && (
        <p
          className={`mt-2 flex items-center gap-2 font-[660] ${tone[of.answer.accepted ? "ok" : "act"]}`}
          role="status"
        >
          <Sign kind={of.answer.accepted ? "ok" : "act"} />
          {of.answer.accepted ? "Accepted" : "Declined"} by {of.answer.name}, {when(of.answer.at)}
        </p>
      )}
      {asking && (
        <div className="mt-2 flex max-w-[560px] flex-wrap items-end gap-3">
          <label className="block min-w-[180px] flex-1">
            <span className="cap block">Who says so</span>
            <input className="field" maxLength={120} value={name} onChange={(e) => setName(e.target.value)} />
          </label>
          <button className="btn" disabled={name.trim() === "" || answer.isPending} onClick={() => tell(true)}>
            Accepted
          </button>
          <button
            className="btn btn-line"
            disabled={name.trim() === "" || answer.isPending}
            onClick={() => tell(false)}
          >
            Declined
          </button>
        </div>
      )}
      {!closed && (
        <p className="mt-1 flex flex-wrap">
          <button className="btn btn-quiet pl-0!" onClick={props.edit}>
            Change it
          </button>
          {of.answer && !other && (
            <button className="btn btn-quiet" onClick={() => setOther(true)}>
              Another answer
            </button>
          )}
        </p>
      )}
      {answer.error && (
        <p role="alert" className="text-oxide">
          {answer.error.message}
        </p>
      )}
    </>
  );
}

type Line = { code?: string; text: string; count: number; price: string };

const asPrice = (cents: number) => (cents === 0 ? "" : showNumber(cents / 100, 2));

/** An amount as it is typed, in hundredths; undefined where it is none. */
function centsOf(text: string): number | undefined {
  if (text.trim() === "") return 0;
  const v = readNumber(text);
  return v === undefined ? undefined : Math.round(v * 100);
}

function Edit({ id, from, priced, onDone }: { id: string; from: Doc; priced: boolean; onDone: () => void }) {
  const [empty] = useState(() => ({
    lines: from.lines.map(({ cents, ...l }): Line => ({ ...l, price: asPrice(cents) })),
  }));
  const { draft, change, clear } = useDraft(`estimate.${id}`, empty);
  const { lines } = draft;
  const wrong = lines.some((l) => l.text.trim() === "" || centsOf(l.price) === undefined);
  const doc: Doc | undefined =
    wrong || lines.length === 0
      ? undefined
      : {
          lines: lines.map(({ price, ...l }) => ({ ...l, text: l.text.trim(), cents: centsOf(price)! })),
          currency: from.currency,
          tax_pct: from.tax_pct,
          tax_included: from.tax_included,
        };
  const settled = useSettled(doc ? JSON.stringify(doc) : undefined, 250);
  const sum = useQuery({
    queryKey: ["cost", settled],
    queryFn: () => got(api.POST("/api/cost", { body: { estimate: JSON.parse(settled!) as Doc } })),
    enabled: settled !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const save = usePaperChange(id, () =>
    got(api.POST("/api/jobs/{id}/estimates", { params: { path: { id } }, body: { id: draft.id, estimate: doc! } })),
  );
  const set = (i: number, part: Partial<Line>) =>
    change({ lines: lines.map((l, k) => (k === i ? { ...l, ...part } : l)) });
  return (
    <form
      className="mt-1 max-w-[640px]"
      onSubmit={(e) => {
        e.preventDefault();
        if (doc) save.mutate(undefined, { onSuccess: () => (clear(), onDone()) });
      }}
    >
      {!priced && (
        <p className="text-soft">
          The shop has no price list yet: type the prices, or{" "}
          <Link to="/prices" className="underline underline-offset-4">
            make the list
          </Link>
          .
        </p>
      )}
      <ul>
        {lines.map((l, i) => (
          <li
            key={i}
            className="grid grid-cols-[auto_minmax(0,1fr)_48px] items-center gap-2 border-t border-line py-1.5 sm:grid-cols-[minmax(0,1fr)_auto_112px_48px]"
          >
            <input
              className="field col-span-3 sm:col-span-1"
              aria-label={`Line ${i + 1}, what`}
              maxLength={120}
              value={l.text}
              onChange={(e) => set(i, { text: e.target.value })}
            />
            <span className="flex items-center">
              <button
                type="button"
                className="btn btn-quiet min-w-12 px-0!"
                aria-label={`One less of line ${i + 1}`}
                disabled={l.count <= 1}
                onClick={() => set(i, { count: l.count - 1 })}
              >
                <Minus size={18} aria-hidden />
              </button>
              <b className="w-5 text-center font-[700]">{l.count}</b>
              <button
                type="button"
                className="btn btn-quiet min-w-12 px-0!"
                aria-label={`One more of line ${i + 1}`}
                disabled={l.count >= 99}
                onClick={() => set(i, { count: l.count + 1 })}
              >
                <Plus size={18} aria-hidden />
              </button>
            </span>
            <input
              className="field text-right"
              inputMode="decimal"
              aria-label={`Line ${i + 1}, price of one`}
              aria-invalid={centsOf(l.price) === undefined || undefined}
              placeholder="0.00"
              value={l.price}
              onChange={(e) => set(i, { price: e.target.value })}
            />
            <button
              type="button"
              className="btn btn-quiet px-0!"
              aria-label={`Leave out ${l.text}`}
              onClick={() => change({ lines: lines.filter((_, k) => k !== i) })}
            >
              <X size={18} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap items-center gap-3 border-t-[1.5px] border-ink pt-2">
        <button
          type="button"
          className="btn btn-quiet pl-0!"
          disabled={lines.length >= 40}
          onClick={() => change({ lines: [...lines, { text: "", count: 1, price: "" }] })}
        >
          <Plus size={18} aria-hidden /> Another line
        </button>
        <span className="ml-auto text-[22px] font-[780]" role="status">
          {doc && sum.data ? sum.data.all : "—"}
        </span>
      </div>
      <div className="mt-2 flex flex-wrap gap-3">
        <button data-saves className="btn" disabled={!doc || save.isPending}>
          {save.isPending ? "Saving …" : "Save the estimate"}
        </button>
        <button type="button" className="btn btn-quiet" onClick={() => (clear(), onDone())}>
          Leave it
        </button>
      </div>
      {save.error && (
        <p role="alert" className="mt-2 text-oxide">
          {save.error.message}
        </p>
      )}
    </form>
  );
}
