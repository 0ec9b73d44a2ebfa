import { Link } from "react-router";
import type { Sheet, StationView } from "../../lib/api";
import { workTime } from "../../lib/time";
import { CautionLine } from "../../parts/CautionLine";
import { Sign, tone } from "../../parts/Sign";
import { Parts } from "./Aids";
import { Estimate } from "./Estimate";
import { GuideHere } from "./Guides";
import { BeforeAndNow, ProofLine } from "./Outcome";
import { StationTitle } from "./Station";

type Props = { n: number; sheet: Sheet; station: StationView; go: (code: string) => void };

/** What is true and what to do, and where the work it asked for is noted. */
export function Decide({ n, sheet, station, go }: Props) {
  const replace = sheet.next.some((step) => step.test === "replace") || sheet.guides.some((g) => g.what === "replace");
  const onward = !sheet.job.closed_at && sheet.next.some((step) => step.station !== station.code);
  return (
    <>
      <StationTitle n={n} name={station.name} hint={station.hint} sheet={sheet} />
      {sheet.outcome?.before ? (
        <>
          <BeforeAndNow outcome={sheet.outcome} sheet={sheet} />
          <div className="mt-2">
            <ProofLine outcome={sheet.outcome} />
          </div>
        </>
      ) : (
        <>
          <p
            className={`flex items-baseline gap-3 text-[34px] leading-[1.1] font-[780] ${tone[sheet.level]}`}
            style={{ fontStretch: "92%" }}
          >
            <span className="translate-y-[2px]">
              <Sign kind={sheet.level} size={24} />
            </span>
            {sheet.headline}
          </p>
          {sheet.because && <p className="mt-1 text-[17px] text-soft">{sheet.because}</p>}
        </>
      )}
      <p className="mt-3 border-l-4 border-line pl-4 text-[17px]">
        <span className="cap block">For the customer</span>
        {sheet.customer}
      </p>
      <ol className="mt-4 border-b border-line">
        {sheet.next.map((step, i) => {
          const inside = (
            <>
              <span className="text-[22px] font-[760] text-soft">{i + 1}</span>
              <span>
                <b className="font-[680]">{step.do}</b> <span className="text-soft">· {step.why}</span>
              </span>
              <span className="font-[640] whitespace-nowrap">{workTime(step.minutes)}</span>
            </>
          );
          const row = `grid min-h-14 w-full ${onward ? "grid-cols-[26px_1fr_auto_14px]" : "grid-cols-[26px_1fr_auto]"} items-center gap-x-3 py-2 text-left`;
          return (
            <li key={step.test + i} className="border-t border-line">
              {step.station === station.code || sheet.job.closed_at ? (
                <div className={row}>{inside}</div>
              ) : (
                <button className={`${row} hover:bg-hush`} onClick={() => go(step.station)}>
                  {inside}
                  <span aria-hidden className="text-soft">
                    ›
                  </span>
                </button>
              )}
            </li>
          );
        })}
      </ol>
      {sheet.cautions.map((c) => (
        <CautionLine key={c.code} caution={c} />
      ))}
      <Parts sheet={sheet} />
      <Estimate sheet={sheet} />
      <div className="mt-5 flex flex-wrap items-center gap-3">
        {!sheet.job.closed_at && (
          <button
            className={`btn ${sheet.ready ? "btn-act" : "btn-line"}`}
            onClick={() => go(sheet.outcome?.proof === "open" ? "prove" : "handover")}
          >
            {sheet.outcome?.proof === "open" ? "Prove it, then hand over" : "On to handing over"}
          </button>
        )}
        {sheet.job.closed_at && (
          <button className="btn btn-line" onClick={() => go("handover")}>
            Its papers
          </button>
        )}
        {!sheet.job.closed_at && !sheet.followed_by && (
          <>
            <GuideHere sheet={sheet} what="replace" act={replace && !sheet.ready} />
            <Link className="btn btn-line" to={`/season/new?job=${sheet.job.id}`}>
              Store it
            </Link>
          </>
        )}
      </div>
    </>
  );
}
