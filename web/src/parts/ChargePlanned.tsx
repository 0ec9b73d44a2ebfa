import { useState, type ReactNode } from "react";
import type { ChargePlan } from "../lib/api";
import { serverNow } from "../lib/line";
import { ChargeCurve, ofPlan } from "./ChargeCurve";
import { Clamps } from "./Clamps";
import { Sign, type SignKind } from "./Sign";

/** What a charge will do that is not begun: its times, what to mind, and how it is connected. */
export function ChargePlanned({ plan, grey, children }: { plan: ChargePlan; grey: boolean; children?: ReactNode }) {
  const [now] = useState(serverNow);
  if (!plan.allowed)
    return (
      <div role="alert" className="mt-3 border-l-4 border-oxide bg-paper px-4 py-3">
        <Said of={plan.refusals} kind="stop" className="text-[17px] font-[660] text-oxide" />
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
          {plan.warnings.length > 0 && <Said of={plan.warnings} kind="act" label="To mind" className="text-[15px]" />}
          <Clamps connect={plan.connect} disconnect={plan.disconnect} />
        </div>
      </div>
    </div>
  );
}

type SaidProps = { of: ChargePlan["warnings"]; kind: SignKind; label?: string; className: string };

/** What is said of a charge, each with its sign. */
function Said({ of, kind, label, className }: SaidProps) {
  return (
    <ul aria-label={label} className={`grid gap-1.5 leading-snug ${className}`}>
      {of.map((w) => (
        <li key={w.code} className="flex items-start gap-2">
          <span className="mt-[3px]">
            <Sign kind={kind} bare />
          </span>
          {w.text}
        </li>
      ))}
    </ul>
  );
}
