import { Link } from "react-router";
import { api, got, type Sheet, type StationView } from "../../lib/api";
import { say } from "../../lib/notices";
import { useJobChange } from "../../lib/queries";
import { when, workTime } from "../../lib/time";
import { CautionLine } from "../../parts/CautionLine";
import { Sign, tone } from "../../parts/Sign";
import { useReopen } from "./HandedOver";
import { Parts } from "./Aids";
import { StationTitle } from "./Station";

type Props = { n: number; sheet: Sheet; station: StationView; go: (code: string) => void };

/** What is true and what to do, and where the work it asked for is noted. */
export function Decide({ n, sheet, station, go }: Props) {
  const id = sheet.job.id;
  const close = useJobChange(() => got(api.POST("/api/jobs/{id}/close", { params: { path: { id } } })));
  const onward = !sheet.job.closed_at && sheet.next.some((step) => step.station !== station.code);
  const reopen = useReopen(id);
  return (
    <>
      <StationTitle n={n} name={station.name} hint={station.hint} sheet={sheet} />
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
      <div className="mt-5 flex flex-wrap items-center gap-3">
        {sheet.job.closed_at ? (
          <>
            <p>
              Handed over {when(sheet.job.closed_at)} by {sheet.job.closed_by}.
            </p>
            <button className="btn btn-line" onClick={() => reopen.mutate(undefined)} disabled={reopen.isPending}>
              Open it again
            </button>
            <Link to="/" className="btn btn-quiet">
              To the floor
            </Link>
          </>
        ) : (
          <button
            className={`btn ${sheet.ready ? "btn-act" : "btn-line"}`}
            onClick={() =>
              close.mutate(undefined, {
                onSuccess: () =>
                  say({
                    text: `${sheet.job.battery.tag} is handed over.`,
                    kind: "ok",
                    act: { word: "Undo", run: () => reopen.mutate(undefined) },
                  }),
              })
            }
            disabled={close.isPending}
          >
            {sheet.level === "ok" ? "Hand over and close" : "Close the job"}
          </button>
        )}
        {(close.error ?? reopen.error) && (
          <span role="alert" className="text-oxide">
            {(close.error ?? reopen.error)?.message}
          </span>
        )}
      </div>
    </>
  );
}
