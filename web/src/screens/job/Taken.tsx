import type { ReadingView } from "../../lib/api";
import { when } from "../../lib/time";

/** A figure that stands, who took it, and the two ways on: another, or a correction. */
export function Taken(props: {
  figure: string;
  unit: string;
  said: string;
  reading: ReadingView;
  onAgain: () => void;
  onCorrect: () => void;
}) {
  return (
    <div className="flex flex-wrap items-end gap-x-7 gap-y-3">
      <p className="text-[64px] leading-none font-[760] tracking-tight" data-testid="figure">
        {props.figure}
        <span className="unit">{props.unit}</span>
      </p>
      <p className="pb-1.5 text-soft">
        {props.said}
        <br />
        {when(props.reading.at)}, {props.reading.by}
      </p>
      <div className="flex gap-2 pb-1 md:ml-auto">
        <button className="btn btn-line" onClick={props.onAgain}>
          Read again
        </button>
        <button className="btn btn-quiet" onClick={props.onCorrect}>
          Correct this one
        </button>
      </div>
    </div>
  );
}
