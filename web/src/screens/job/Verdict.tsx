import type { Judgement, StationView } from "../../lib/api";
import { workTime } from "../../lib/time";
import { Sign, tone } from "../../parts/Sign";
import type { Judging } from "./useEntry";

type Props = { shown: Judgement; preview: boolean; judging: Judging };

/** Greyed while it is not of what is being entered. */
const behind = (judging: Judging) =>
  judging === "done" ? "" : "opacity-40 grayscale transition-opacity delay-300 duration-200";

const captionOf = (preview: boolean, judging: Judging) => {
  if (judging === "failed") return "Before this figure";
  return preview ? "If this is saved" : "So far";
};

/** Where there is no room beside the station the verdict stands over it, and stays in sight. */
export function VerdictLine({ shown, preview, judging }: Props) {
  const kind = shown.level;
  return (
    <div
      aria-live="polite"
      className="sticky top-14 z-10 -mx-4 flex min-h-11 flex-wrap items-baseline gap-x-2.5 border-b border-line bg-paper px-4 py-2 md:-mx-6 md:-mt-3.5 md:mb-3 md:px-6 wide:hidden"
    >
      <p
        className={`flex items-baseline gap-2.5 text-[18px] leading-tight font-[760] ${tone[kind]} ${behind(judging)}`}
      >
        {kind !== "note" && (
          <span className="translate-y-0.5">
            <Sign kind={kind} />
          </span>
        )}
        <span>
          {(preview || judging === "failed") && (
            <span className="mr-1.5 text-[13px] font-[500] tracking-normal text-soft">
              {captionOf(preview, judging)}:
            </span>
          )}
          {shown.headline}
        </span>
      </p>
    </div>
  );
}

export function Verdict({ shown, preview, judging }: Props) {
  const kind = shown.level;
  return (
    <div aria-live="polite" className={behind(judging)}>
      <p className="cap hidden wide:block">{captionOf(preview, judging)}</p>
      <p
        className={`mt-1.5 hidden wide:flex items-baseline gap-2.5 text-[25px] leading-[1.14] font-[780] ${tone[kind]}`}
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
          {step.waits !== undefined && ` Waits ${workTime(step.waits)}.`}
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
