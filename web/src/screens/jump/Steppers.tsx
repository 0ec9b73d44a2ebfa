import type { JumpKit, JumpPlan } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { keep, riseIn, showNumber } from "../../lib/units";
import { beside, steppers, type Call } from "./call";

type Props = { kit: JumpKit; plan: JumpPlan; call: Call; change: (to: Partial<Call>) => void };

/** Copper, length and revs, each turned by a step; beside it what one step does. */
export function Steppers({ kit, plan, call, change }: Props) {
  const all = steppers(kit, call);
  const unit = plan.reached?.unit ?? "rpm";
  const scale = usePerson().temperature;
  return (
    <section aria-label="Leads and revs" className="divide-y divide-line">
      {all.map((one) => {
        const [less, more] = beside(one);
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
            <Key word={`Less: ${one.name}`} sign="−" to={less} set={(v) => change({ [one.code]: v })} />
            <Key word={`More: ${one.name}`} sign="+" to={more} set={(v) => change({ [one.code]: v })} />
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
          In 10 s the leads warm by {keep(`${showNumber(riseIn(plan.lead_rise_c_per_10s, scale), 0)} °${scale}`)}.
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
