import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, table, Refused, type Stock, type StockLine } from "../../lib/api";
import { say } from "../../lib/notices";
import { showNumber } from "../../lib/units";
import { Failure, Loading } from "../../parts/Failure";
import { PickFile } from "../../parts/PickFile";
import { Sign } from "../../parts/Sign";
import { Boards } from "./Boards";
import { ItemForm } from "./ItemForm";
import { useStock } from "./useStock";

/** The batteries that stand on the shelf to be sold: which is ready, which wants a test or a night on the charger. */
export function Shelf() {
  const stock = useStock();
  const queries = useQueryClient();
  const [edit, setEdit] = useState<StockLine | "new">();
  const [picked, setPicked] = useState<string>();
  const list = useRef<HTMLUListElement>(null);
  const show = (s: Stock) => queries.setQueryData(["stock"], s);
  if (stock.error && !stock.data) return <Failure error={stock.error} retry={() => void stock.refetch()} />;
  if (!stock.data) return <Loading what="the shelf" />;
  const { shelf } = stock.data;
  const ready = shelf.filter((s) => !s.charge_first && !s.test_first).length;
  return (
    <div className="mx-auto max-w-[1120px] px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2 border-b-[1.5px] border-ink pb-3">
        <h1 className="flex items-baseline gap-3">
          <b className="text-[54px] leading-none font-[790]">{ready}</b>
          <span className="text-[17px] leading-tight">
            <span className="block font-[680]">ready on the shelf</span>
            <span className="block text-soft">of {shelf.length}</span>
          </span>
        </h1>
        <div className="ml-auto flex flex-wrap gap-2">
          <Table show={show} />
          <a className="btn btn-line" href="/api/stock/csv" download="shelf.csv">
            <Download size={18} aria-hidden /> As a table
          </a>
          <button className="btn btn-act" onClick={() => setEdit("new")} data-first>
            Put one on the shelf
          </button>
        </div>
      </div>
      {edit && (
        <ItemForm
          key={edit === "new" ? "new" : edit.item.tag}
          stock={stock.data}
          was={edit === "new" ? undefined : edit}
          onDone={(s) => {
            if (s) show(s);
            setEdit(undefined);
          }}
        />
      )}
      {shelf.length === 0 && !edit && (
        <p className="max-w-[60ch] py-8 text-[18px]">
          Nothing stands on the shelf. Put new batteries here with their labels, by hand or from a table: then a guide
          can say which of them suits a vehicle, and why.
        </p>
      )}
      {shelf.length > 0 && !edit && (
        <Boards
          shelf={shelf}
          picked={picked}
          onPick={(tag) => {
            setPicked(tag);
            list.current?.querySelector(`[data-tag="${CSS.escape(tag)}"]`)?.scrollIntoView({ block: "center" });
          }}
        />
      )}
      <ul ref={list} className="pt-2">
        {shelf.map((s) => (
          <Line
            key={s.item.tag}
            one={s}
            picked={picked === s.item.tag}
            words={stock.data.vocabularies}
            onEdit={() => setEdit(s)}
          />
        ))}
      </ul>
    </div>
  );
}

function Line({
  one,
  picked,
  words,
  onEdit,
}: {
  one: StockLine;
  picked: boolean;
  words: Stock["vocabularies"];
  onEdit: () => void;
}) {
  const { item } = one;
  const go = useNavigate();
  const word = (field: string, code: string | undefined) => words[field]?.find((t) => t.code === code)?.word;
  const open = useMutation({
    mutationFn: async () => {
      const job = await got(
        api.POST("/api/stock/{tag}/job", { params: { path: { tag: item.tag } }, body: { id: uuid() } }),
      );
      return job.job_id;
    },
    onSuccess: (id) => void go(`/jobs/${id}`),
    onError: (e) => say({ text: e.message, kind: "stop" }),
  });
  const state = one.test_first ? "Test it first" : one.charge_first ? "Charge it first" : "Ready";
  const figures = [
    item.rating.cca && `${item.rating.cca} A ${item.rating.standard ?? ""}`.trim(),
    item.rating.ah_20h && `${item.rating.ah_20h} Ah`,
    item.group || item.size_mm?.join(" × "),
    word("positive", item.positive),
    word("chemistry", item.chemistry),
  ].filter(Boolean);
  return (
    <li
      data-tag={item.tag}
      className={`${picked ? "bg-card outline-2 -outline-offset-2 outline-copper" : ""} grid grid-cols-[1fr_auto] items-center gap-x-5 gap-y-1 border-b border-line py-2.5 md:grid-cols-[150px_190px_1fr_auto] md:px-2`}
    >
      <Link
        to={`/register/${encodeURIComponent(item.tag)}`}
        className="tight min-h-11 text-[22px] leading-[44px] font-[770] underline-offset-4 hover:underline"
      >
        {item.tag}
      </Link>
      <p className="flex items-center gap-2.5 text-[16px] font-[660]">
        <Sign kind={state === "Ready" ? "ok" : "act"} bare />
        {state}
        {one.soc_pct !== undefined && <span className="font-[500] text-soft">{showNumber(one.soc_pct, 0)} %</span>}
      </p>
      <p className="min-w-0 text-[15px] max-md:col-span-2">
        {figures.join(" · ")}
        <span className="block text-soft">
          {one.months === undefined
            ? "No date on it"
            : one.months === 0
              ? "Made this month"
              : `Made ${one.months} months ago`}
          {one.tested?.on && ` · tested ${one.tested.on}`}
        </span>
      </p>
      <div className="flex gap-2 max-md:col-span-2">
        {one.job_id ? (
          <Link className="btn btn-line" to={`/jobs/${one.job_id}`}>
            Its sheet
          </Link>
        ) : (
          <button
            className={`btn ${state === "Ready" ? "btn-line" : ""}`}
            disabled={open.isPending}
            onClick={() => open.mutate()}
          >
            Test or charge it
          </button>
        )}
        <button className="btn btn-quiet" onClick={onEdit}>
          Change
        </button>
      </div>
    </li>
  );
}

/** Takes a table of batteries: all of it, or nothing and what is wrong with it. */
function Table({ show }: { show: (s: Stock) => void }) {
  const [wrong, setWrong] = useState<string[]>([]);
  const load = useMutation({
    mutationFn: async (file: File) => got(api.POST("/api/stock/csv", await table(file))),
    onSuccess: (s) => {
      show(s);
      setWrong([]);
      say({ text: "The table is on the shelf.", kind: "ok" });
    },
    onError: (e) =>
      setWrong(
        e instanceof Refused && e.problem.errors?.length
          ? e.problem.errors.map((x) => `${(x.location ?? "").replace(/^body\.?/, "")}: ${x.message ?? ""}`)
          : [e.message],
      ),
  });
  return (
    <>
      <PickFile
        word="From a table"
        label="Table of batteries"
        accept=".csv,text/csv"
        busy={load.isPending}
        onFile={(file) => load.mutate(file)}
      />
      {wrong.length > 0 && (
        <div role="alert" className="basis-full border-l-4 border-oxide bg-card px-4 py-3">
          <p className="font-[700] text-oxide">The table was not taken. Nothing was saved.</p>
          <ul className="mt-1 max-h-56 list-disc overflow-auto pl-5" tabIndex={0}>
            {wrong.map((w) => (
              <li key={w}>{w}</li>
            ))}
          </ul>
          <button className="btn btn-line mt-2" onClick={() => setWrong([])}>
            Close
          </button>
        </div>
      )}
    </>
  );
}
