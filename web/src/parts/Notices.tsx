import { X } from "lucide-react";
import { unsay, useNotices, type Shown } from "../lib/notices";
import { useNarrow } from "../lib/pointer";
import { Sign } from "./Sign";

/**
 * What was just done and can be undone, and what the clock calls. They stand in
 * the head of the page, on a phone where a place has its name: below are the
 * figures and what saves them. What a call says stays on the clock when it is gone.
 */
export function Notices() {
  // A phone's clock strip is in sight all the time, and says a call itself.
  const narrow = useNarrow();
  const notices = useNotices().filter((n) => !(narrow && n.call));
  return (
    <div
      role="status"
      className="screen-only absolute inset-x-0 top-full z-50 mx-1 mt-0 grid gap-1 md:mx-auto md:mt-1 md:w-fit md:top-0 md:max-w-[60vw] [@media(max-height:480px)]:fixed [@media(max-height:480px)]:top-0"
    >
      {notices.map((n) => (
        <Word key={n.key} notice={n} />
      ))}
    </div>
  );
}

function Word({ notice: n }: { notice: Shown }) {
  return (
    <div className="flex min-h-[52px] items-center gap-3 rounded-[5px] bg-strip pr-1 pl-4 text-[15.5px] leading-tight text-[#f5f2ea] shadow-xl dark:border">
      {n.kind && (
        <span className="[&_svg]:text-[#f5f2ea]">
          <Sign kind={n.kind} bare />
        </span>
      )}
      <span className="line-clamp-3 min-w-0 py-1 break-words">{n.text}</span>
      {[...(n.act ? [n.act] : []), ...(n.more ?? [])].map((act) => (
        <button
          key={act.word}
          className="min-h-12 shrink-0 px-3 font-[700] text-[#f0b08c] underline underline-offset-4"
          onClick={() => {
            unsay(n.key);
            act.run();
          }}
        >
          {act.word}
        </button>
      ))}
      <button
        className="flex h-12 w-11 shrink-0 items-center justify-center"
        aria-label="Close this notice"
        onClick={() => unsay(n.key)}
      >
        <X size={18} aria-hidden />
      </button>
    </div>
  );
}
