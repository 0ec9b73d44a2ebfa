import { useState } from "react";
import { Link } from "react-router";
import { api, got, type Sheet, type StationView } from "../../lib/api";
import { say } from "../../lib/notices";
import { useJobChange, usePerson } from "../../lib/queries";
import { when, workTime } from "../../lib/time";
import { CautionLine } from "../../parts/CautionLine";
import { Sign, tone } from "../../parts/Sign";
import { useReopen } from "./HandedOver";
import { Parts } from "./Aids";
import { GuideHere } from "./Guides";
import { StationTitle } from "./Station";

type Props = { n: number; sheet: Sheet; station: StationView; go: (code: string) => void };

/** What is true and what to do, and where the work it asked for is noted. */
export function Decide({ n, sheet, station, go }: Props) {
  const id = sheet.job.id;
  const [reason, setReason] = useState("");
  const lead = usePerson().role === "lead";
  // What is off because it was put away holds nobody up.
  const missing = sheet.off.filter((p) => !p.stored);
  const off = missing.length > 0;
  const close = useJobChange(() =>
    got(
      api.POST("/api/jobs/{id}/close", {
        params: { path: { id } },
        ...(reason.trim() ? { body: { reason: reason.trim() } } : {}),
      }),
    ),
  );
  const replace = sheet.next.some((step) => step.test === "replace") || sheet.guides.some((g) => g.what === "replace");
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
      {off && !sheet.job.closed_at && (
        <div className="mt-4 border-l-4 border-copper bg-card px-4 py-3">
          <p className="flex items-center gap-3 text-[18px] font-[680]">
            <Sign kind="act" bare /> Still off: {missing.map((p) => p.word).join(", ")}
          </p>
          <p className="mt-1 text-soft">
            {lead
              ? "Put it back, or say why it goes without."
              : "Put it back first; a lead can let it go with a reason."}
          </p>
          <div className="mt-2 flex flex-wrap gap-3">
            <Link className="btn" to={`/jobs/${missing[0]!.job_id}/guide/${missing[0]!.what}`}>
              Put it back
            </Link>
            {lead && (
              <input
                className="field max-w-[420px] flex-1"
                aria-label="Why it goes without"
                placeholder="Why it goes without"
                maxLength={300}
                value={reason}
                onChange={(e) => setReason(e.target.value)}
              />
            )}
          </div>
        </div>
      )}
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
            className={`btn ${sheet.ready && !off ? "btn-act" : "btn-line"}`}
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
            disabled={close.isPending || (off && (!lead || reason.trim() === ""))}
          >
            {sheet.level === "ok" ? "Hand over and close" : "Close the job"}
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
        {(close.error ?? reopen.error) && (
          <span role="alert" className="text-oxide">
            {(close.error ?? reopen.error)?.message}
          </span>
        )}
      </div>
    </>
  );
}
