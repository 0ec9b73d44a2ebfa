import { useState, type ReactNode } from "react";
import type { ChargePlan } from "../lib/api";
import { serverNow } from "../lib/line";
import { ChargeCurve, ofPlan } from "./ChargeCurve";
import { Clamps } from "./Clamps";
import { Sign } from "./Sign";

/** What a charge will do that is not begun: its times, what to mind, and how it is connected. */
export function ChargePlanned({ plan, grey, children }: { plan: ChargePlan; grey: boolean; children?: ReactNode }) {
  const [now] = useState(serverNow);
  if (!plan.allowed)
    return (
      <div role="alert" className="mt-3 grid gap-2 border-l-4 border-oxide bg-paper px-4 py-3">
        {plan.refusals.map((r) => (
          <p key={r.code} className="flex items-start gap-2.5 text-[17px] leading-snug font-[660] text-oxide">
            <span className="mt-1">
              <Sign kind="stop" bare />
            </span>
            {r.text}
          </p>
        ))}
      </div>
    );
  return (
    <div className={`mt-3 ${grey ? "opacity-45" : ""}`}>
      <div className="grid gap-x-6 gap-y-4 xl:grid-cols-[minmax(0,1fr)_310px]">
        <div className="min-w-0">
          <ChargeCurve {...ofPlan(plan, now)} />
          <p className="mt-1 text-[14px] text-soft">{plan.why}</p>
        </div>
        <div className="grid min-w-0 content-start gap-3">
          {children}
          {plan.warnings.length > 0 && (
            <ul aria-label="To mind" className="grid gap-1.5">
              {plan.warnings.map((w) => (
                <li key={w.code} className="flex items-start gap-2 text-[15px] leading-snug">
                  <span className="mt-[3px]">
                    <Sign kind="act" bare />
                  </span>
                  {w.text}
                </li>
              ))}
            </ul>
          )}
          <Clamps connect={plan.connect} disconnect={plan.disconnect} />
        </div>
      </div>
    </div>
  );
}
