import { useEffect, useLayoutEffect, useRef, useState } from "react";
import { takeOff, type useLoad } from "../../lib/load";

type Running = NonNullable<ReturnType<typeof useLoad>>;

/** What a screen reader says of a load: not every second. */
const SAID = [10, 5];

/** The load's seconds, then the call to take it off, then the wait for the next. */
export function Countdown({ load, onOver }: { load: Running; onOver: () => void }) {
  const { timer, left, wait } = load;
  const on = left > 0;
  const seconds = Math.ceil(left);
  const over = useRef(onOver);
  useEffect(() => {
    over.current = onOver;
  });
  useEffect(() => {
    if (!on) over.current();
  }, [on]);
  useLayoutEffect(() => {
    const cancel = (event: KeyboardEvent) => {
      if (event.key === "Escape" && on) takeOff();
    };
    window.addEventListener("keydown", cancel);
    return () => window.removeEventListener("keydown", cancel);
  }, [on]);
  return (
    <div className="min-w-0">
      <p role="status" className="sr-only">
        {said(load)}
      </p>
      {on ? (
        <div role="timer" aria-label={`${seconds} seconds of load to go`}>
          <div className="flex items-center justify-between gap-3.5">
            <span
              className="text-[96px] leading-[0.9] font-[780] tracking-tight text-copper md:text-[80px]"
              data-testid="countdown"
            >
              {seconds}
            </span>
            <b className="min-w-0 flex-1 text-[19px] leading-tight font-[720] md:text-[16px]">{timer.go}, hold it</b>
            <button className="btn btn-line" onClick={takeOff}>
              Cancel
            </button>
          </div>
          <span className="mt-2 block h-3 bg-hush">
            <span className="block h-full bg-copper" style={{ width: `${(100 * left) / timer.seconds}%` }} />
          </span>
        </div>
      ) : (
        <div
          className="animate-[flash_.5s_4] rounded-sm bg-oxide px-4 py-3 text-card motion-reduce:animate-none"
          role="alert"
        >
          <b className="block text-[32px] leading-none font-[800]">{timer.stop}</b>
          <span className="mt-1.5 flex flex-wrap items-center justify-between gap-x-4">
            <span>Enter the volts you saw at the last second.</span>
            <Wait seconds={wait} />
          </span>
        </div>
      )}
    </div>
  );
}

/** How long the load and the battery are left alone before the next one. */
export function Wait({ seconds }: { seconds: number }) {
  const s = Math.ceil(seconds);
  return (
    <span className="font-[640] whitespace-nowrap" data-testid="wait">
      next load in {Math.floor(s / 60)}:{String(s % 60).padStart(2, "0")}
    </span>
  );
}

function said({ timer, left }: Running): string {
  if (left <= 0) return timer.stop;
  const mark = SAID.findLast((s) => left > s - 1 && left <= s);
  if (mark) return `${mark} seconds`;
  return left > timer.seconds - 2 ? `${timer.go}. ${timer.seconds} seconds.` : "";
}

/** The button that puts the load on; while the wait of the last one runs it says so and asks once more. */
export function Start({ seconds, wait, onStart }: { seconds: number; wait: number; onStart: () => void }) {
  const [sure, setSure] = useState(false);
  const waiting = wait > 0 && !sure;
  return (
    <button
      className="btn btn-line min-h-[54px]! w-full px-2! text-[20px]!"
      onClick={() => (waiting ? setSure(true) : onStart())}
    >
      {waiting ? <Wait seconds={wait} /> : `Start ${seconds} s`}
    </button>
  );
}
