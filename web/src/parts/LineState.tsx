import { Link } from "react-router";
import { useDown } from "../lib/line";
import { giveUp, useWaiting } from "../lib/outbox";
import { Sign } from "./Sign";

/** That the server cannot be reached, and what waits on this device to be sent. */
export function LineState() {
  const down = useDown();
  const waiting = useWaiting().filter((w) => !w.event || w.held);
  const refused = waiting.filter((w) => w.refused);
  const n = waiting.length - refused.length;
  const ticks = waiting.some((w) => w.event && !w.refused);
  const count =
    n === 1
      ? `1 ${ticks ? "entry" : "reading"} waits to be sent.`
      : `${n} ${ticks ? "entries" : "readings"} wait to be sent.`;
  return (
    <div className="screen-only" aria-live="polite">
      {(down || n > 0) && (
        <p className="flex items-center gap-2.5 bg-slate px-4 py-2.5 font-[560] text-card md:px-6 [&_svg]:text-card">
          <Sign kind="wait" bare />
          <span>
            {down && <b className="font-[720]">No line to the server. </b>}
            {n > 0 ? count : "What you enter is kept on this device."}
          </span>
        </p>
      )}
      {refused.map((w) => (
        <p
          key={w.id}
          role="alert"
          className="flex flex-wrap items-center gap-x-3 border-b border-line bg-card px-4 py-1 md:px-6"
        >
          <Sign kind="stop" bare />
          <span>
            <b className="font-[720]">
              {w.tag}, {w.text} was not taken:
            </b>{" "}
            {w.refused}
          </span>
          <Link
            className="btn btn-quiet"
            to={
              w.look
                ? `/season/${w.look.stored}`
                : w.event
                  ? `/jobs/${w.job}/guide/${w.event.what}`
                  : `/jobs/${w.job}?at=${w.kind}`
            }
          >
            {w.look ? "To its season" : w.event ? "To its guide" : "To its sheet"}
          </Link>
          <button className="btn btn-quiet" onClick={() => giveUp(w.id)}>
            Give it up
          </button>
        </p>
      ))}
    </div>
  );
}
