import { X } from "lucide-react";
import { useEffect } from "react";
import { unsay, useNotices } from "../lib/notices";
import { Sign } from "./Sign";

/** How long a passing word stands, ms: long enough to take a glove off. */
const STANDS = 12_000;

/** What was just done and can be undone, and what the clock calls. */
export function Notices() {
  const notices = useNotices();
  const passing = notices.find((n) => !n.stays)?.key;
  useEffect(() => {
    if (passing === undefined) return;
    const timer = setTimeout(() => unsay(passing), STANDS);
    return () => clearTimeout(timer);
  }, [passing]);
  return (
    <div
      role="status"
      className="screen-only fixed inset-x-0 bottom-[calc(var(--strip-h)+env(safe-area-inset-bottom)+8px)] z-50 mx-auto grid w-fit max-w-[calc(100vw-24px)] gap-2"
    >
      {notices.map((n) => (
        <div
          key={n.key}
          className="flex items-center gap-3 rounded-[5px] bg-strip py-1 pr-1 pl-4 text-[15.5px] text-[#f5f2ea] shadow-xl dark:border"
        >
          {n.kind && (
            <span className="[&_svg]:text-[#f5f2ea]">
              <Sign kind={n.kind} bare />
            </span>
          )}
          <span className="py-2">{n.text}</span>
          {n.act && (
            <button
              className="min-h-12 shrink-0 px-3 font-[700] text-[#f0b08c] underline underline-offset-4"
              onClick={() => {
                unsay(n.key);
                n.act?.run();
              }}
            >
              {n.act.word}
            </button>
          )}
          <button
            className="flex h-12 w-11 shrink-0 items-center justify-center"
            aria-label="Close this notice"
            onClick={() => unsay(n.key)}
          >
            <X size={18} aria-hidden />
          </button>
        </div>
      ))}
    </div>
  );
}
