import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, got, Refused, type Prices as List } from "../../lib/api";
import { say } from "../../lib/notices";
import { usePerson } from "../../lib/queries";
import { readNumber, showNumber } from "../../lib/units";
import { Failure, Loading } from "../../parts/Failure";

/** What work costs here: estimates begin with it. */
export function Prices() {
  const prices = useQuery({ queryKey: ["prices"], queryFn: () => got(api.GET("/api/prices")) });
  if (prices.isPending) return <Loading what="the prices" />;
  if (!prices.data) return <Failure error={prices.error} retry={() => void prices.refetch()} />;
  return (
    <div className="mx-auto max-w-[760px] px-4 py-4 md:px-6">
      <p className="cap">The shop</p>
      <h1 tabIndex={-1} className="tight text-[30px] leading-[1.1] font-[780] outline-none">
        Prices
      </h1>
      <p className="mt-1 text-soft">
        An estimate begins with these. One that was made keeps its prices, whatever is changed here.
      </p>
      <Form
        key={prices.data.version}
        list={prices.data.prices}
        version={prices.data.version}
        items={prices.data.items}
      />
    </div>
  );
}

type Props = { list: List; version: number; items: { code: string; word: string }[] };

function Form({ list, version, items }: Props) {
  const queries = useQueryClient();
  const lead = usePerson().role === "lead";
  const [currency, setCurrency] = useState(list.currency);
  const [tax, setTax] = useState(list.tax_pct === 0 ? "" : String(list.tax_pct));
  const [included, setIncluded] = useState(list.tax_included);
  const [typed, setTyped] = useState<Record<string, string>>(() =>
    Object.fromEntries(
      items.map((i) => [i.code, list.cents[i.code] === undefined ? "" : showNumber(list.cents[i.code]! / 100, 2)]),
    ),
  );
  const wrong = items.filter((i) => typed[i.code]!.trim() !== "" && !((readNumber(typed[i.code]!) ?? -1) >= 0));
  const taxPct = tax.trim() === "" ? 0 : readNumber(tax);
  const save = useMutation({
    mutationFn: () => {
      const cents: Record<string, number> = {};
      for (const i of items) {
        const v = readNumber(typed[i.code]!);
        if (v !== undefined) cents[i.code] = Math.round(v * 100);
      }
      return got(
        api.PUT("/api/prices", {
          body: { version, prices: { currency: currency.trim(), tax_pct: taxPct!, tax_included: included, cents } },
        }),
      );
    },
    onSuccess: (body) => {
      queries.setQueryData(["prices"], body);
      void queries.invalidateQueries({ queryKey: ["job"] });
      say({ text: "The prices are kept.", kind: "ok" });
    },
  });
  const stale = save.error instanceof Refused && save.error.status === 409;
  return (
    <form
      className="mt-4"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <fieldset disabled={!lead}>
        <ul className="border-b border-line">
          {items.map((i) => (
            <li key={i.code} className="border-t border-line">
              <label className="grid grid-cols-[minmax(0,1fr)_150px] items-center gap-4 py-1.5">
                <span className="text-[17px] font-[640]">{i.word}</span>
                <span className="flex items-center gap-2">
                  <span className="w-8 text-right text-soft">{currency}</span>
                  <input
                    className="field text-right text-[19px] font-[700]"
                    inputMode="decimal"
                    placeholder="—"
                    aria-invalid={wrong.includes(i) || undefined}
                    value={typed[i.code]}
                    onChange={(e) => setTyped({ ...typed, [i.code]: e.target.value })}
                  />
                </span>
              </label>
            </li>
          ))}
        </ul>
        <div className="mt-4 grid gap-3 md:grid-cols-[150px_150px_minmax(0,1fr)] md:items-end">
          <label className="block">
            <span className="cap block">Currency</span>
            <input className="field" maxLength={8} value={currency} onChange={(e) => setCurrency(e.target.value)} />
          </label>
          <label className="block">
            <span className="cap block">Tax, %</span>
            <input
              className="field"
              inputMode="decimal"
              placeholder="none"
              aria-invalid={taxPct === undefined || undefined}
              value={tax}
              onChange={(e) => setTax(e.target.value)}
            />
          </label>
          <label className="flex min-h-12 items-center gap-2.5">
            <input
              type="checkbox"
              className="h-6 w-6 accent-[var(--copper)]"
              checked={included}
              onChange={(e) => setIncluded(e.target.checked)}
            />
            The prices hold the tax already
          </label>
        </div>
      </fieldset>
      {lead ? (
        <button
          data-saves
          className="btn mt-4"
          disabled={wrong.length > 0 || taxPct === undefined || currency.trim() === "" || save.isPending}
        >
          {save.isPending ? "Saving …" : "Save the prices"}
        </button>
      ) : (
        <p className="mt-4 text-soft">A lead can change them.</p>
      )}
      {save.error && (
        <p role="alert" className="mt-3 text-oxide">
          {save.error.message}{" "}
          {stale && (
            <button
              type="button"
              className="btn btn-quiet"
              onClick={() => void queries.invalidateQueries({ queryKey: ["prices"] })}
            >
              Show them as they are now
            </button>
          )}
        </p>
      )}
    </form>
  );
}
