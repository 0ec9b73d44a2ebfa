import type { ReadingView } from "../../lib/api";
import { when } from "../../lib/time";

/** A figure that stands, who took it, and the ways on: another, or a correction, where they may be. */
export function Taken(props: {
  reading: ReadingView;
  onAgain: (() => void) | undefined;
  onCorrect: (() => void) | undefined;
}) {
  const r = props.reading;
  return (
    <div className="flex flex-wrap items-end justify-between gap-x-7 gap-y-3">
      <div className={`flex min-w-0 items-end gap-x-6 gap-y-1.5 ${r.figure ? "" : "flex-wrap"}`}>
        <p
          className={`tracking-tight ${r.figure ? "text-[64px] leading-none font-[760] whitespace-nowrap" : "text-[26px] leading-tight font-[700] text-pretty"}`}
          data-testid="figure"
        >
          {r.figure ?? r.text}
          {r.unit && <span className="unit">{r.unit}</span>}
        </p>
        <p className="min-w-0 pb-1.5 text-soft">
          {r.figure && (
            <>
              {r.how}
              <br />
            </>
          )}
          {when(r.at)}, {r.by}
          {r.reading.instrument && `, with ${r.reading.instrument}`}
        </p>
      </div>
      <div className="flex flex-nowrap gap-2">
        {props.onAgain && (
          <button className="btn btn-line" onClick={props.onAgain}>
            Read again
          </button>
        )}
        {props.onCorrect && (
          <button className="btn btn-quiet" onClick={props.onCorrect}>
            Correct this one
          </button>
        )}
      </div>
    </div>
  );
}
