import { useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, type ReadingView, type Sheet } from "../../lib/api";
import { useJobChange } from "../../lib/queries";
import { when } from "../../lib/time";
import { PickOne } from "../../parts/Chips";
import { CautionLine } from "../../parts/CautionLine";
import { Sign, tone } from "../../parts/Sign";
import { History } from "./History";
import { minutes, TakeAway, type StationName } from "./JobSheet";
import { StationTitle } from "./Station";

export function Decide({ sheet, live, go }: { sheet: Sheet; live: ReadingView[]; go: (s: StationName) => void }) {
  const id = sheet.job.id;
  const close = useJobChange(id, () => got(api.POST("/api/jobs/{id}/close", { params: { path: { id } } })));
  const reopen = useJobChange(id, () => got(api.POST("/api/jobs/{id}/reopen", { params: { path: { id } } })));
  const a = sheet.assessment;
  return (
    <>
      <StationTitle n={4} name="Decide" hint="what is true, and what to do" />
      <p
        className={`flex items-baseline gap-3 text-[34px] leading-[1.1] font-[780] ${tone[sheet.level]}`}
        style={{ fontStretch: "92%" }}
      >
        <span className="translate-y-[2px]">
          <Sign kind={sheet.level} size={24} />
        </span>
        {a.headline}
      </p>
      {a.because && <p className="mt-1 text-[17px] text-soft">{a.because}</p>}
      <ol className="mt-4 border-b border-line">
        {a.next.map((step, i) => (
          <li
            key={step.test + i}
            className="grid min-h-14 grid-cols-[26px_1fr_auto] items-center gap-x-3 border-t border-line py-2"
          >
            <span className="text-[22px] font-[760] text-soft">{i + 1}</span>
            <span>
              <b className="font-[680]">{step.do}</b> <span className="text-soft">· {step.why}</span>
            </span>
            <span className="font-[640] whitespace-nowrap">{minutes(step.minutes)}</span>
          </li>
        ))}
      </ol>
      {sheet.cautions.map((c) => (
        <CautionLine key={c.code} caution={c} />
      ))}
      {!sheet.job.closed_at && (a.next.some((n) => n.test === "charge") || live.at(-1)?.reading.kind === "charged") && (
        <ChargedEntry sheet={sheet} live={live} go={go} />
      )}
      <History all={sheet.readings} kind="charged" />
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
            className={`btn ${a.verdict === "good" || a.verdict === "look_elsewhere" ? "btn-act" : "btn-line"}`}
            onClick={() => close.mutate(undefined)}
            disabled={close.isPending}
          >
            {sheet.level === "ok" ? "Hand over and close" : "Close the job"}
          </button>
        )}
        <span className="flex md:hidden">
          <TakeAway id={id} />
        </span>
        {(close.error ?? reopen.error) && (
          <span role="alert" className="text-oxide">
            {(close.error ?? reopen.error)?.message}
          </span>
        )}
      </div>
    </>
  );
}

const ends = [
  { code: "full", word: "To full" },
  { code: "stopped", word: "Stopped early" },
  { code: "refused", word: "It refused" },
  { code: "hot", word: "It got hot" },
];
type Ended = "full" | "stopped" | "refused" | "hot";

/** Notes that the battery has been charged, so that what follows is judged as after it. */
function ChargedEntry({ sheet, live, go }: { sheet: Sheet; live: ReadingView[]; go: (s: StationName) => void }) {
  const jobID = sheet.job.id;
  const last = live.at(-1)?.reading.kind === "charged" ? live.at(-1) : undefined;
  const [ended, setEnded] = useState<Ended>();
  const [id, setID] = useState(() => uuid());
  const save = useJobChange(jobID, (what: Ended) =>
    got(
      api.POST("/api/jobs/{id}/readings", {
        params: { path: { id: jobID } },
        body: { id, reading: { kind: "charged", ended: what }, ...(last ? { replaces: last.id } : {}) },
      }),
    ),
  );
  return (
    <div className="mt-4">
      <p className="cap mb-1.5">{last ? `Charged (${last.reading.ended}); correct it to` : "Has it been charged?"}</p>
      <div className="flex flex-wrap items-center gap-3">
        <PickOne label="How the charge ended" chips={ends} value={ended} onPick={(v) => setEnded(v as Ended)} />
        {ended && (
          <button
            className="btn"
            disabled={save.isPending}
            onClick={() =>
              save.mutate(ended, {
                onSuccess: () => {
                  setEnded(undefined);
                  setID(uuid());
                  if (!last) go("Rest volts");
                },
              })
            }
          >
            Save
          </button>
        )}
      </div>
      {save.error && (
        <p role="alert" className="mt-1 text-oxide">
          {save.error.message}
        </p>
      )}
    </div>
  );
}
