import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { v7 as uuid } from "uuid";
import { api, got, Refused, type Bank, type ChargerView, type Unit } from "../../lib/api";
import { say } from "../../lib/notices";
import { readNumber } from "../../lib/units";
import { PickOne } from "../../parts/Chips";
import { Entry } from "../../parts/Entry";
import { NumberEntry } from "../../parts/NumberEntry";

type Typed = Record<
  "name" | "where" | "amps" | "rates" | "volts" | "volts_float" | "volts_low" | "starts_from_volts",
  string
> & {
  kind: Unit["kind"];
};

const text = (v: number | undefined) => (v ? String(v) : "");

const typedOf = (u: Unit | undefined): Typed => ({
  name: u?.name ?? "",
  where: u?.where ?? "",
  kind: u?.kind ?? "smart",
  amps: text(u?.amps),
  rates: u?.rates?.join(" ") ?? "",
  volts: text(u?.volts),
  volts_float: text(u?.volts_float),
  volts_low: text(u?.volts_low),
  starts_from_volts: text(u?.starts_from_volts),
});

/** A figure to send: what is no number is sent as it is, so that the server names the field. */
const figure = (typed: string) => readNumber(typed) ?? (typed as unknown as number);

function unitOf(t: Typed): Unit {
  const out: Record<string, unknown> = { name: t.name, kind: t.kind, amps: figure(t.amps) };
  if (t.where.trim()) out.where = t.where;
  const rates = t.rates.split(/[\s;]+/).filter(Boolean);
  if (rates.length > 0) out.rates = rates.map(figure);
  for (const f of ["volts", "volts_float", "volts_low", "starts_from_volts"] as const)
    if (t[f].trim() && (f !== "volts_float" || stages(t.kind))) out[f] = figure(t[f]);
  return out as unknown as Unit;
}

const stages = (kind: Unit["kind"]) => kind === "smart" || kind === "maintainer";

/** A charger of the shop, as its plate has it. */
export function ChargerForm(props: {
  unit: ChargerView | undefined;
  kinds: Bank["kinds"];
  onDone: (id?: string) => void;
}) {
  // As it was when the form was opened: what others change meanwhile is not overwritten unseen, and
  // the news of one's own change may come ahead of its answer.
  const [was] = useState(props.unit);
  const queries = useQueryClient();
  const [id] = useState(() => was?.id ?? uuid());
  const [t, setT] = useState(() => typedOf(was?.unit));
  const change = (part: Partial<Typed>) => setT({ ...t, ...part });
  const send = (unit: Unit, retired: boolean, version: number) =>
    was
      ? got(
          api.PUT("/api/bank/chargers/{id}", {
            params: { path: { id } },
            body: { version, unit, ...(retired ? { retired } : {}) },
          }),
        )
      : got(api.POST("/api/bank/chargers", { body: { id, unit } }));
  const save = useMutation({
    mutationFn: (retired: boolean) => send(retired ? was!.unit : unitOf(t), retired, was?.version ?? 0),
    onSuccess: (bank, retired) => {
      queries.setQueryData(["bank"], bank);
      props.onDone(retired ? undefined : id);
      const name = retired ? was!.unit.name : t.name;
      say({
        text: retired ? `Charger ${name} is retired. What was charged on it stays.` : `Charger ${name} is kept.`,
        kind: "ok",
        ...(retired
          ? {
              act: {
                word: "Undo",
                run: () =>
                  void send(was!.unit, false, was!.version + 1).then(
                    (now) => queries.setQueryData(["bank"], now),
                    (error: Error) => say({ text: `Not taken back. ${error.message}`, kind: "act" }),
                  ),
              },
            }
          : {}),
      });
    },
  });
  const refused = save.error instanceof Refused ? save.error : undefined;
  const at = (field: string) => refused?.at(field);
  return (
    <form
      aria-label={was ? `Charger ${was.unit.name}` : "A new charger"}
      className="grid max-w-[640px] gap-4"
      onSubmit={(e: FormEvent) => {
        e.preventDefault();
        save.mutate(false);
      }}
    >
      <h2 className="tight text-[26px] leading-none font-[780]">
        {was ? `Charger ${was.unit.name}` : "A new charger"}
      </h2>
      <div className="grid grid-cols-[1fr_2fr] gap-4">
        <Entry
          name="The shop calls it"
          data-first
          value={t.name}
          maxLength={20}
          placeholder="3"
          onChange={(name) => change({ name })}
          error={at("name")}
        />
        <Entry
          name="Where it hangs"
          value={t.where}
          maxLength={60}
          placeholder="rail, by the door"
          onChange={(where) => change({ where })}
          error={at("where")}
        />
      </div>
      <div>
        <p className="cap mb-1">Kind</p>
        <PickOne
          label="Kind"
          chips={props.kinds}
          value={t.kind}
          onPick={(kind) => change({ kind: kind as Unit["kind"] })}
        />
      </div>
      <div className="grid grid-cols-2 gap-x-6 gap-y-3">
        <NumberEntry
          label={t.kind === "taper" ? "Into a flat battery" : "Gives at most"}
          unit="A"
          value={t.amps}
          onChange={(amps) => change({ amps })}
          error={at("amps")}
        />
        <Entry
          name="Its rate switch, amps"
          value={t.rates}
          placeholder="2 6 10"
          inputMode="decimal"
          onChange={(rates) => change({ rates })}
          error={at("rates") ?? refused?.problem.errors?.find((e) => e.location?.includes("rates["))?.message}
          hint="With spaces between; empty where it has none."
        />
        <NumberEntry
          label={stages(t.kind) ? "Charges at" : "Reaches at most"}
          unit="V"
          value={t.volts}
          onChange={(volts) => change({ volts })}
          error={at("volts")}
          hint={stages(t.kind) ? "Empty: as each build asks." : "Empty: 17 V on 12."}
        />
        {stages(t.kind) && (
          <NumberEntry
            label="Then keeps at"
            unit="V"
            value={t.volts_float}
            onChange={(volts_float) => change({ volts_float })}
            error={at("volts_float")}
          />
        )}
        <NumberEntry
          label="Low maintenance setting"
          unit="V"
          value={t.volts_low}
          onChange={(volts_low) => change({ volts_low })}
          error={at("volts_low")}
          hint="For sealed, EFB, AGM and gel; empty where it has none."
        />
        {stages(t.kind) && (
          <NumberEntry
            label="Begins from"
            unit="V"
            value={t.starts_from_volts}
            onChange={(starts_from_volts) => change({ starts_from_volts })}
            error={at("starts_from_volts")}
            hint="Under that its polarity protection keeps it off; empty: 8 V."
          />
        )}
      </div>
      {refused && (
        <p role="alert" className="font-[560] text-oxide">
          {refused.message}
        </p>
      )}
      <div className="flex flex-wrap gap-3">
        <button data-saves className="btn btn-act" disabled={save.isPending || !t.name.trim() || !t.amps.trim()}>
          {save.isPending ? "Saving …" : was ? "Save" : "Add this charger"}
        </button>
        <button type="button" className="btn btn-line" onClick={() => props.onDone(was?.id)}>
          Cancel
        </button>
        {was && (
          <button
            type="button"
            className="btn btn-quiet ml-auto text-oxide!"
            disabled={save.isPending || was.hung !== undefined}
            title={was.hung ? "Take off what hangs on it first" : undefined}
            onClick={() => save.mutate(true)}
          >
            Retire it
          </button>
        )}
      </div>
    </form>
  );
}
