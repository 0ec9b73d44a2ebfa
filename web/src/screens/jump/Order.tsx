import { useState } from "react";
import type { Act, JumpPlan } from "../../lib/api";
import { colourOf } from "./Circuit";

/** The steps of going on or coming off, each ticked by a tap; the clamps keep their numbers. */
export function Order({
  plan,
  off,
  setOff,
  done,
  setDone,
}: {
  plan: JumpPlan;
  off: boolean;
  setOff: (off: boolean) => void;
  done: number;
  setDone: (n: number) => void;
}) {
  const [why, setWhy] = useState(false);
  const acts = off ? plan.disconnect : plan.connect;
  return (
    <section aria-label={off ? "Clamps off, in order" : "Clamps on, in order"}>
      <ol className="border-t border-line">
        {acts.map((act, i) => (
          <Step
            key={`${off} ${i}`}
            act={act}
            n={i + 1}
            done={i < done}
            next={i === done}
            onTap={() => setDone(i < done ? i : i + 1)}
          />
        ))}
      </ol>
      <div className="mt-1 flex flex-wrap items-center justify-between gap-x-3">
        <button className="btn btn-quiet -ml-2.5" onClick={() => setOff(!off)}>
          {off ? "Going on" : "Coming off, in reverse"}
        </button>
        <button className="btn btn-quiet -mr-2.5" aria-expanded={why} onClick={() => setWhy(!why)}>
          Other orders
        </button>
      </div>
      {why && (
        <ul className="grid gap-1.5 border-l-4 border-line px-3 py-1 text-[14px] leading-snug">
          {plan.not_offered.map((o) => (
            <li key={o.habit}>
              <b className="font-[640]">{o.habit}: not here.</b> <span className="text-soft">{o.why}</span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Step({ act, n, done, next, onTap }: { act: Act; n: number; done: boolean; next: boolean; onTap: () => void }) {
  const colour = act.lead ? colourOf(act.lead) : "var(--slate)";
  return (
    <li className="border-b border-line">
      <button
        onClick={onTap}
        aria-pressed={done}
        className={`grid min-h-12 w-full grid-cols-[30px_1fr_20px] items-center gap-x-2 py-1 text-left text-[14.5px] leading-snug hover:bg-hush ${done ? "opacity-55" : ""}`}
      >
        <b className="text-[22px] leading-none font-[790]" style={{ color: colour }}>
          {act.clamp ?? (
            <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden className="text-slate">
              <circle cx="8" cy="8" r="6" fill="none" stroke="currentColor" strokeWidth="2" />
              <path d="M8 2a6 6 0 0 1 0 12Z" fill="currentColor" />
            </svg>
          )}
        </b>
        <span className={next ? "font-[640]" : ""}>
          <span className="sr-only">Step {n}: </span>
          {act.do}
          {act.why && <span className="block text-[13.5px] font-[450] text-soft">{act.why}</span>}
          {act.loose && <span className="block text-[13.5px] font-[450] text-soft">{act.loose}</span>}
        </span>
        {done && (
          <svg width="18" height="18" viewBox="0 0 18 18" className="text-verdigris" aria-hidden>
            <path d="M3 9.500 7.500 14 15 4.500" fill="none" stroke="currentColor" strokeWidth="2.600" />
          </svg>
        )}
      </button>
    </li>
  );
}
