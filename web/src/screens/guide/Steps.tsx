import { Fragment, useEffect, useRef } from "react";
import type { Guide } from "../../lib/api";
import { Sign } from "../../parts/Sign";

/** All steps in order, by what they are for; a tap goes there. */
export function Steps({
  guide,
  done,
  at,
  go,
}: {
  guide: Guide;
  done: Map<string, string>;
  at: number;
  go: (i: number) => void;
}) {
  const here = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    here.current?.scrollIntoView({ block: "nearest" });
  }, [at]);
  return (
    <nav aria-label="Steps" className="text-[14.500px]">
      <ol>
        {guide.steps.map((s, i) => {
          const kind = done.get(s.code);
          const first = i === 0 || guide.steps[i - 1]!.phase !== s.phase;
          return (
            <Fragment key={s.code}>
              {first && (
                <li className="cap pt-2.5 pb-0.5 pl-2">{guide.phases.find((p) => p.code === s.phase)?.word}</li>
              )}
              <li>
                <button
                  ref={i === at ? here : undefined}
                  aria-current={i === at ? "step" : undefined}
                  onClick={() => go(i)}
                  className={`flex min-h-11 w-full items-center gap-2.5 rounded-sm px-2 py-1 text-left leading-tight hover:bg-hush ${i === at ? "bg-card font-[680] outline-[1.5px] -outline-offset-1 outline-ink" : kind ? "text-soft" : ""}`}
                >
                  {kind === "ticked" ? (
                    <Sign kind="ok" bare />
                  ) : kind === "skipped" ? (
                    <span className="w-4 text-center text-soft" aria-label="skipped">
                      –
                    </span>
                  ) : s.code === guide.now ? (
                    <Sign kind="act" bare />
                  ) : (
                    <span className="mx-[3px] size-2.5 rounded-full border-[1.5px] border-soft" aria-hidden />
                  )}
                  <span className="min-w-0 flex-1">{s.do}</span>
                </button>
              </li>
            </Fragment>
          );
        })}
      </ol>
    </nav>
  );
}
