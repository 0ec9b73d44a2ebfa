import { useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, type Reading, type Sheet, type StationView } from "../../lib/api";
import { say } from "../../lib/notices";
import { useJobChange } from "../../lib/queries";
import { when, workTime } from "../../lib/time";
import { PickOne } from "../../parts/Chips";
import { CautionLine } from "../../parts/CautionLine";
import { Sign, tone } from "../../parts/Sign";
import { History } from "./History";
import { StationTitle } from "./Station";

type Props = { n: number; sheet: Sheet; station: StationView; go: (code: string, from?: Sheet) => void };

/** What is true and what to do, and where the work it asked for is noted. */
export function Decide({ n, sheet, station, go }: Props) {
  const id = sheet.job.id;
  const close = useJobChange(() => got(api.POST("/api/jobs/{id}/close", { params: { path: { id } } })));
  const reopen = useJobChange(() => got(api.POST("/api/jobs/{id}/reopen", { params: { path: { id } } })));
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
      <ol className="mt-4 border-b border-line">
        {sheet.next.map((step, i) => (
          <li
            key={step.test + i}
            className="grid min-h-14 grid-cols-[26px_1fr_auto] items-center gap-x-3 border-t border-line py-2"
          >
            <span className="text-[22px] font-[760] text-soft">{i + 1}</span>
            <span>
              <b className="font-[680]">{step.do}</b> <span className="text-soft">· {step.why}</span>
            </span>
            <span className="font-[640] whitespace-nowrap">{workTime(step.minutes)}</span>
          </li>
        ))}
      </ol>
      {sheet.cautions.map((c) => (
        <CautionLine key={c.code} caution={c} />
      ))}
      {station.advice.ask && <WorkEntry sheet={sheet} station={station} go={go} />}
      {station.kind && <History all={sheet.readings} kind={station.kind} />}
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

/** Notes that the work has been done, so that what follows is judged as after it. */
function WorkEntry({ sheet, station, go }: Omit<Props, "n">) {
  const jobID = sheet.job.id;
  // What was noted last and nothing has followed yet can be put right.
  const latest = sheet.in_effect.at(-1);
  const last = latest === station.taken.at(-1) ? sheet.readings.find((r) => r.id === latest) : undefined;
  const field = station.fields.find((f) => f.need)!;
  const [picked, setPicked] = useState<string>();
  const [id, setID] = useState(() => uuid());
  const save = useJobChange((code: string) =>
    got(
      api.POST("/api/jobs/{id}/readings", {
        params: { path: { id: jobID } },
        body: {
          id,
          reading: { kind: station.kind, [field.name]: code } as Reading,
          ...(last ? { replaces: last.id } : {}),
        },
      }),
    ),
  );
  return (
    <div className="mt-4">
      <p className="cap mb-1.5">{last ? `${last.text}. Correct it to` : station.advice.ask}</p>
      <div className="flex flex-wrap items-center gap-3">
        <PickOne label={field.label} chips={field.choices ?? []} value={picked} onPick={setPicked} />
        {picked && (
          <button
            className="btn"
            disabled={save.isPending}
            onClick={() =>
              save.mutate(picked, {
                onSuccess: (saved) => {
                  setPicked(undefined);
                  setID(uuid());
                  if (!last) go(saved.at, saved);
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
