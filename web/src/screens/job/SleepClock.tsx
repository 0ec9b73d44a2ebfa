import { drop, keep, kept } from "../../lib/shelf";
import { useState } from "react";
import { span, useNow } from "../../lib/time";

/** Counts how long everything has been shut and off, through a refresh, and fills the minutes in. */
export function SleepClock(props: { job: string; enough: number; onMinutes: (minutes: number) => void }) {
  const { job, enough, onMinutes } = props;
  const place = `asleep.${job}`;
  const [since, setSince] = useState(() => kept<number>(place));
  const now = useNow(1000);
  if (since === undefined)
    return (
      <button
        type="button"
        className="btn btn-line max-w-full whitespace-normal"
        onClick={() => {
          const at = Date.now();
          keep(place, at);
          setSince(at);
        }}
      >
        All shut and off: count the sleep
      </button>
    );
  const minutes = Math.floor((now - since) / 60_000);
  const part = Math.min(1, (now - since) / (enough * 60_000));
  return (
    <div className="border-l-4 border-slate bg-card px-4 py-2">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <b className="text-[22px] font-[760] text-slate">{span(Math.max(0, now - since))}</b>
        <span>
          {minutes < enough ? "since all was shut. Modules may still be awake." : "since all was shut: read it now."}
        </span>
      </p>
      <span className="mt-1 block h-2 bg-hush">
        <span className="block h-full bg-slate" style={{ width: `${100 * part}%` }} />
      </span>
      <div className="mt-2 flex flex-wrap gap-2">
        <button type="button" className="btn btn-line" onClick={() => onMinutes(minutes)}>
          Take {minutes} min
        </button>
        <button
          type="button"
          className="btn btn-quiet"
          onClick={() => {
            drop(place);
            setSince(undefined);
          }}
        >
          Start anew
        </button>
      </div>
    </div>
  );
}
