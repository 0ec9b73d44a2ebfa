import type { JumpPlan, Timer } from "../../lib/api";
import { putOn, takeOff, useAwake, useLoad } from "../../lib/load";

/** The try and the rest after it, counted down with tones; on every screen until it is over. */
type Props = {
  plan: JumpPlan;
  job: string;
  tag: string;
  /** The try comes first: no minutes on the leads before it. */
  first: boolean;
};

export function Tries({ plan, job, tag, first }: Props) {
  const running = useLoad();
  const mine = running?.job === job && running.station === "jump" ? running : undefined;
  useAwake(mine !== undefined && mine.left > 0);
  const timer: Timer = {
    seconds: plan.tries.seconds,
    go: "Crank",
    stop: "Stop cranking",
    wait: plan.tries.rest_seconds,
  };
  if (mine && mine.left > 0)
    return (
      <div
        role="timer"
        aria-label={`${Math.ceil(mine.left)} seconds of cranking to go`}
        className="flex items-center gap-4"
      >
        <b className="text-[64px] leading-none font-[780] tracking-tight text-copper" data-testid="countdown">
          {Math.ceil(mine.left)}
        </b>
        <span className="flex-1 font-[700]">Crank, until it fires</span>
        <button className="btn btn-line" onClick={takeOff}>
          It fires
        </button>
      </div>
    );
  if (mine)
    return (
      <p role="status" className="flex items-center gap-4 border-l-4 border-slate bg-paper px-3 py-2">
        <b className="text-[40px] leading-none font-[770] text-slate" data-testid="wait">
          {Math.floor(mine.wait / 60)}:{String(Math.ceil(mine.wait) % 60).padStart(2, "0")}
        </b>
        <span className="text-[15px] leading-snug">until the next try. The source goes on charging it meanwhile.</span>
      </p>
    );
  return (
    <button
      className={`btn px-3! ${first ? "btn-act" : "btn-line"}`}
      onClick={() => putOn({ job, tag, station: "jump", timer })}
    >
      Try now: {plan.tries.seconds} s
    </button>
  );
}

/** The minutes on the leads of a call, counted down on this device. */
export function MinutesHere({ plan, tag }: { plan: JumpPlan; tag: string }) {
  const running = useLoad();
  const mine = running?.job === "road" && running.station === "leads" ? running : undefined;
  const minutes = plan.minutes_first ?? 0;
  if (mine && mine.left > 0)
    return (
      <p role="timer" className="flex items-center gap-4 border-l-4 border-slate bg-paper px-3 py-2">
        <b className="text-[40px] leading-none font-[770] text-slate" data-testid="minutes">
          {Math.floor(mine.left / 60)}:{String(Math.floor(mine.left % 60)).padStart(2, "0")}
        </b>
        <span className="flex-1 text-[15px] leading-snug">on the leads, then try</span>
        <button className="btn btn-line" onClick={takeOff}>
          Stop
        </button>
      </p>
    );
  const timer: Timer = { seconds: 60 * minutes, go: "On the leads", stop: "Try it now", wait: 0 };
  return (
    <button className="btn btn-act px-3!" onClick={() => putOn({ job: "road", tag, station: "leads", timer })}>
      Clamps are on: {minutes} min
    </button>
  );
}
