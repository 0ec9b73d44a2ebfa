import type { SeasonPlan, SeasonWay } from "../../lib/api";
import { Sign } from "../../parts/Sign";
import { Mini, ofWay } from "./Mini";
import { inkOf, onDate, toneOf } from "./scale";

/** What becomes of it, in three words. */
function short(w: SeasonWay) {
  if (w.freezes_on) return `frozen ${onDate(w.freezes_on)}`;
  if (w.freezes_from) return `may freeze ${onDate(w.freezes_from)}`;
  if (w.no_start_on) return `no start ${onDate(w.no_start_on)}`;
  if (w.sign === "stop") return "not so";
  if (w.charge_by) return `charge by ${onDate(w.charge_by)}`;
  return `${w.soc_pct_end.best.toFixed(0)} % at the end`;
}

/** Ways of keeping it, as small versions of the one picture, the best first. */
export function Ways(props: { plan: SeasonPlan; kept: string; shown: string; onShow: (way: string) => void }) {
  return (
    <ul className="grid grid-cols-1 gap-3 md:grid-cols-2 xl:grid-cols-3" aria-label="Ways of keeping it">
      {props.plan.ways.map((w) => (
        <li key={w.way} className="min-w-0">
          <button
            type="button"
            aria-pressed={props.shown === w.way}
            onClick={() => props.onShow(w.way)}
            className={`grid h-full min-h-[104px] w-full grid-cols-[116px_1fr] overflow-hidden rounded-[5px] bg-card text-left ${props.shown === w.way ? "border-[2.5px] border-ink" : "border-[1.5px] border-line hover:border-soft"}`}
          >
            <span className="flex items-end border-r-[1.5px] border-line bg-paper">
              <Mini {...ofWay(w)} width={116} height={102} />
            </span>
            <span className="flex min-w-0 flex-col gap-0.5 px-3 py-2">
              <span className="tight text-[16px] leading-[1.15] font-[750]">{w.name}</span>
              <span className={`flex items-center gap-1.5 text-[14.5px] font-[650] ${inkOf[w.sign]}`}>
                <Sign kind={toneOf[w.sign]} bare size={13} />
                {short(w)}
              </span>
              <span className="mt-auto text-[13px] leading-snug text-soft">{w.cost}</span>
              {(props.kept === w.way || props.plan.chosen === w.way) && (
                <span className="cap">
                  {props.kept === w.way ? "kept so" : ""}
                  {props.kept === w.way && props.plan.chosen === w.way ? ", " : ""}
                  {props.plan.chosen === w.way ? "least work that keeps it" : ""}
                </span>
              )}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
