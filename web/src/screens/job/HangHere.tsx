import { Link } from "react-router";
import type { Sheet, StationView, Unit } from "../../lib/api";
import { useBank, useChargePlan, type PlanQuery } from "../../lib/queries";
import { useSettled } from "../../lib/settled";
import { readNumber } from "../../lib/units";
import { ChargePlanned } from "../../parts/ChargePlanned";
import { drawnFields, kindOf, type Values } from "./entry";

/** The charger that is being entered, once it is one. */
function entered(station: StationView, values: Values): PlanQuery | undefined {
  if (kindOf(station, values)?.code !== "on_charger") return undefined;
  const of = Object.fromEntries(drawnFields(station, values).map((d) => [d.field.name, d.value]));
  const amps = readNumber(of.amps ?? "");
  const volts = readNumber(of.volts ?? "");
  if (!amps || !of.charger_kind) return undefined;
  return {
    kind: of.charger_kind as Unit["kind"],
    amps,
    ...(volts ? { volts } : {}),
    ...(of.place === "in_place" ? { in_vehicle: true } : {}),
  };
}

/** Before it is hung on: the way to the shop's chargers, and what the charger entered would do. */
export function HangHere({ sheet, station, values }: { sheet: Sheet; station: StationView; values: Values }) {
  const bank = useBank();
  const query = useSettled(entered(station, values), 250);
  const plan = useChargePlan(sheet.job.id, query);
  const free = bank.data?.chargers.filter((c) => !c.hung).length ?? 0;
  return (
    <div className="mt-3">
      {(bank.data?.chargers.length ?? 0) > 0 && (
        <Link to={`/bank?job=${sheet.job.id}`} className="btn btn-line">
          {free > 0
            ? `Hang it on one of the shop’s chargers, ${free} free`
            : "The shop’s chargers are all taken: see its turn"}
        </Link>
      )}
      {query && plan.data && <ChargePlanned plan={plan.data} grey={plan.isPlaceholderData} />}
      {query && plan.error && <p className="mt-3 text-soft">{plan.error.message}</p>}
    </div>
  );
}
