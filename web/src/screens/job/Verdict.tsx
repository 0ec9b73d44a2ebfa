import type { Judgement, StationView } from "../../lib/api";
import { workTime } from "../../lib/time";
import { Sign, tone } from "../../parts/Sign";

/** On a phone the verdict stands on top in one line. */
export function PhoneVerdict({ shown }: { shown: Judgement }) {
  const kind = shown.level;
  return (
    <p className={`mt-3 flex items-baseline gap-2.5 text-[18px] leading-tight font-[760] md:hidden ${tone[kind]}`}>
      {kind !== "note" && (
        <span className="translate-y-0.5">
          <Sign kind={kind} />
        </span>
      )}
      {shown.headline}
    </p>
  );
}

export function Verdict({ shown, preview }: { shown: Judgement; preview: boolean }) {
  const kind = shown.level;
  return (
    <div aria-live="polite">
      <p className="cap">{preview ? "If this is saved" : "So far"}</p>
      <p
        className={`mt-1.5 flex items-baseline gap-2.5 text-[25px] leading-[1.14] font-[780] ${tone[kind]}`}
        style={{ fontStretch: "92%" }}
      >
        {kind !== "note" && (
          <span className="translate-y-[1px]">
            <Sign kind={kind} size={19} />
          </span>
        )}
        <span data-testid="headline">{shown.headline}</span>
      </p>
      {shown.because && <p className="mt-1 text-[14.5px] text-soft">{shown.because}</p>}
    </div>
  );
}

/** The step that is worth most now, and the way to its station. */
export function NextStep(props: { shown: Judgement; at: StationView; go: (code: string) => void; closed: boolean }) {
  const step = props.shown.next[0];
  if (!step || props.closed) return null;
  return (
    <div className="mt-3 grid grid-cols-[1fr_auto] items-center gap-3 rounded-[5px] border-[1.5px] border-ink bg-paper px-3.5 py-3">
      <div>
        <p className="cap">Next</p>
        <p className="text-[17px] font-[720]">{step.do}</p>
        <p className="text-[13.5px] leading-snug text-soft">
          {workTime(step.minutes)} · {step.why}
        </p>
      </div>
      {step.station !== props.at.code && (
        <button className="btn px-4!" onClick={() => props.go(step.station)}>
          Go
        </button>
      )}
    </div>
  );
}
