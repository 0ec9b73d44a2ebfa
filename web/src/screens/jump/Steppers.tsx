import type { JumpKit, JumpPlan } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { keep, showNumber } from "../../lib/units";
import { sourceOf, usualLeads, type Call } from "./call";

type Props = { kit: JumpKit; plan: JumpPlan; call: Call; change: (to: Partial<Call>) => void };

type One = {
  code: string;
  name: string;
  unit: string;
  value: number;
  digits: number;
  values: number[];
  set: (v: number) => void;
};

/** Copper, length and revs, each turned by a step; beside it what one step does. */
export function Steppers({ kit, plan, call, change }: Props) {
  const source = sourceOf(kit, call);
  const usual = usualLeads[source.kind]!;
  const all: One[] = [
    {
      code: "mm2",
      name: "lead copper",
      unit: "mm²",
      value: call.mm2 ?? usual.mm2,
      digits: 0,
      values: [6, ...kit.leads_mm2],
      set: (mm2) => change({ mm2 }),
    },
    {
      code: "metres",
      name: "lead length",
      unit: "m",
      value: call.metres ?? usual.metres,
      digits: 1,
      values: [0.6, 1, 1.5, 1.8, 2, 2.5, 3, 3.5, 4, 5, 6, 8],
      set: (metres) => change({ metres }),
    },
    ...(source.kind === "vehicle" && call.running
      ? [
          {
            code: "rpm",
            name: "donor revs",
            unit: "rpm",
            value: call.rpm,
            digits: 0,
            values: [750, 1500, 2000, 2500],
            set: (rpm: number) => change({ rpm }),
          },
        ]
      : []),
  ];
  const unit = plan.reached?.unit ?? "rpm";
  const scale = usePerson().temperature;
  const rise = (c: number) => (scale === "F" ? (c * 9) / 5 : c);
  return (
    <section aria-label="Leads and revs" className="divide-y divide-line">
      {all.map((one) => {
        const i = one.values.findIndex((v) => v >= one.value - 1e-9);
        const less = one.values[i - 1];
        const more = one.values[i + 1];
        const turn = plan.turns.find((t) => t.code === one.code);
        return (
          <div key={one.code} className="grid grid-cols-[88px_52px_52px_1fr] items-center gap-x-2 py-1.5">
            <p className="leading-none">
              <b className="text-[27px] leading-none font-[770] tracking-tight" data-testid={`value-${one.code}`}>
                {showNumber(one.value, one.digits)}
              </b>
              <span className="text-[13px] text-soft"> {one.unit}</span>
              <span className="mt-1 block text-[13px] text-soft">{one.name}</span>
            </p>
            <Key word={`Less: ${one.name}`} sign="−" to={less} set={one.set} />
            <Key word={`More: ${one.name}`} sign="+" to={more} set={one.set} />
            {turn && (
              <p className="pl-1 text-[13.5px] leading-tight text-soft">
                {showNumber(turn.value, one.digits)} {one.unit}:
                <b className="block text-[16px] font-[700] text-ink">
                  {showNumber(turn.reached, unit === "V" ? 1 : 0)} {unit}
                </b>
              </p>
            )}
          </div>
        );
      })}
      {plan.lead_rise_c_per_10s >= 1 && (
        <p className="pt-1.5 text-[13.5px] text-soft">
          In 10 s the leads warm by {keep(`${showNumber(rise(plan.lead_rise_c_per_10s), 0)} °${scale}`)}.
        </p>
      )}
    </section>
  );
}

function Key(props: { word: string; sign: string; to: number | undefined; set: (v: number) => void }) {
  const { to } = props;
  return (
    <button
      aria-label={props.word}
      disabled={to === undefined}
      onClick={() => to !== undefined && props.set(to)}
      className="h-[52px] w-[52px] rounded-sm border-[1.5px] border-ink bg-card text-[26px] leading-none font-[600] disabled:border-line disabled:text-soft disabled:opacity-60"
    >
      {props.sign}
    </button>
  );
}
