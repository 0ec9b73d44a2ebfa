import type { Judgement, StationView } from "../../lib/api";
import { workTime } from "../../lib/time";

/** The best tests on offer: minutes of work, what each tells, and the way there. Skipping is always allowed. */
export function NextTests(props: {
  shown: Judgement;
  at: StationView;
  go: (code: string) => void;
  closed: boolean;
  byStations: boolean;
}) {
  const { shown, closed, go } = props;
  const first = shown.next[0];
  const tests = shown.tests.filter((t) => t.test !== first?.test || t.after);
  if (closed || tests.length === 0) return null;
  return (
    <section aria-label="Worth measuring" className="mt-4">
      <p className="cap">
        {props.byStations ? "Still open, by station" : "Worth measuring, by what it tells a minute"}
      </p>
      <ul>
        {tests.map((t) => (
          <li key={t.test} className="border-t border-line">
            <button
              onClick={() => go(t.after === "charge" ? "charge" : t.after === "clean" ? "clean" : t.station)}
              className="grid min-h-14 w-full grid-cols-[52px_1fr_14px] items-center gap-2.5 py-1.5 text-left hover:bg-hush"
            >
              <span className="leading-none">
                <span className="text-[22px] font-[720]">{Math.round(t.minutes)}</span>
                <small className="ml-0.5 text-[12px] text-soft">min</small>
              </span>
              <span>
                <span className="block text-[15.5px] leading-tight font-[640]">{t.do}</span>
                <span className="block text-[13.5px] leading-snug text-soft">
                  {t.after === "charge" && "Once it is charged. "}
                  {t.after === "clean" && "Once it is clean. "}
                  {t.after === "warm" && "Once it is warm, brought inside. "}
                  {t.why}
                  {t.clock && t.waits !== undefined && ` On the clock already: ${workTime(Math.ceil(t.waits))} to go.`}
                  {!t.clock && t.waits !== undefined && ` Waits ${workTime(t.waits)}.`}
                  {t.breaks && " Ends the rest that runs."}
                </span>
              </span>
              <span aria-hidden className="text-soft">
                ›
              </span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
