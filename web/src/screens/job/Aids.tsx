import { v7 as uuid } from "uuid";
import { api, got, type Sheet, type StationView } from "../../lib/api";
import { askForNotices } from "../../lib/calling";
import { useJobChange } from "../../lib/queries";
import { atTime, restTime, span, useNow } from "../../lib/time";

type Props = { sheet: Sheet; aids: StationView["aids"] };

/** The clocks that make a station itself, in the order it names them. */
export function Aids({ sheet, aids }: Props) {
  return <>{aids.includes("rest_clock") && <RestClock sheet={sheet} />}</>;
}

/** Lets the battery rest, and shows how long it still has to. */
function RestClock({ sheet }: { sheet: Sheet }) {
  const id = sheet.job.id;
  const now = useNow(1000);
  const begin = useJobChange((body: { id: string; minutes: number }) =>
    got(api.POST("/api/jobs/{id}/rests", { params: { path: { id } }, body })),
  );
  const end = useJobChange(() => got(api.DELETE("/api/jobs/{id}/rests", { params: { path: { id } } })));
  if (sheet.job.closed_at) return null;
  if (sheet.rest) {
    const left = new Date(sheet.rest.ends_at).getTime() - now;
    return (
      <p className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 border-l-4 border-slate bg-card px-4 py-2">
        <span className="text-[22px] font-[760] text-slate">{left > 0 ? span(left) : "Rest over"}</span>
        <span>
          {left > 0
            ? `of rest to go, until ${atTime(sheet.rest.ends_at)}. It is on the clock.`
            : "Take the volts now, before anything is switched on."}
        </span>
        <button className="btn btn-quiet ml-auto" onClick={() => end.mutate(undefined)} disabled={end.isPending}>
          End the rest
        </button>
      </p>
    );
  }
  return (
    <p className="mt-2 flex flex-wrap items-center gap-2">
      <button
        className="btn btn-line"
        onClick={() => {
          askForNotices();
          begin.mutate({ id: uuid(), minutes: sheet.rest_minutes });
        }}
        disabled={begin.isPending}
      >
        Let it rest {restTime(sheet.rest_minutes)}
      </button>
      <span className="text-[14px] text-soft">The clock calls when it is over, on every device signed in.</span>
      {(begin.error ?? end.error) && (
        <span role="alert" className="text-oxide">
          {(begin.error ?? end.error)?.message}
        </span>
      )}
    </p>
  );
}
