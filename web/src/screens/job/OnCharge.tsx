import { useCharge } from "../../lib/queries";
import type { Sheet } from "../../lib/api";
import { ChargeCurve, ofCharge } from "../../parts/ChargeCurve";
import { Doing } from "../../parts/Doing";

/** What the charge of this battery is doing and will do: volts and amps, with what is not known. */
export function OnCharge({ sheet }: { sheet: Sheet }) {
  const { data } = useCharge(sheet.job.id, sheet.in_effect.join(), sheet.on_charge);
  if (!data) return null;
  return (
    <section className="grid gap-2" aria-label="Its charge">
      <Doing sign={data.follows.sign} text={data.follows.text} act={data.follows.do} />
      <ChargeCurve {...ofCharge(data)} />
    </section>
  );
}
