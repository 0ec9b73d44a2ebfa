import { api, got, type Sheet, type StationView } from "../../lib/api";
import { serverNow } from "../../lib/line";
import { useJobChange } from "../../lib/queries";
import { beginStay, type StayKind as Kind } from "../../lib/stay";
import { atTime, otherDay, restTime, span, useNow } from "../../lib/time";

type Props = { sheet: Sheet; station: StationView };

/** What the battery is left alone for, where that is begun: at rest volts its rest, where it is cold its warming. */
export function Aids({ sheet, station }: Props) {
  const rests = station.aids.includes("rest_clock");
  const warms = rests || station.code === "charge" || station.code === "strength";
  return (
    <>
      {(rests || (warms && (sheet.warm_minutes ?? sheet.stay) !== undefined)) && (
        <StayClock sheet={sheet} rests={rests} />
      )}
    </>
  );
}

const during: Record<Kind, (until: string) => string> = {
  rest: (until) => `of rest to go, until ${until}. It is on the clock.`,
  warm: (until) => `until it is warm enough, at ${until}. It is on the clock.`,
  parts: (until) => `until the parts are due, ${until}. It is on the clock.`,
  jump: (until) => `on the leads to go, until ${until}. Then try it.`,
};
const over: Record<Kind, [string, string]> = {
  rest: ["Rest over", "Take the volts now, before anything is switched on."],
  warm: ["Warm enough", "Read its temperature, then go on."],
  parts: ["Parts are due", "Are they here? Then go on."],
  jump: ["Try it now", "10 s at most, then 2 min of rest."],
};
const ends: Record<Kind, string> = { rest: "End the rest", warm: "It is warm", parts: "They are here", jump: "Tried" };

/** Leaves the battery alone for something, and ends that. */
export function useStay(id: string) {
  const begin = useJobChange((of: { kind: Kind; minutes?: number | undefined }) => beginStay(id, of.kind, of.minutes));
  const end = useJobChange(() => got(api.DELETE("/api/jobs/{id}/rests", { params: { path: { id } } })));
  return {
    begin: (kind: Kind, minutes?: number) => begin.mutate({ kind, minutes }),
    end: () => end.mutate(undefined),
    busy: begin.isPending || end.isPending,
    error: begin.error ?? end.error,
  };
}

/** What runs, with how long it still has to. */
export function Running({ sheet, onEnd, busy }: { sheet: Sheet; onEnd: () => void; busy: boolean }) {
  const now = useNow(1000);
  const stay = sheet.stay!;
  const to = Date.parse(stay.ends_at);
  const left = to - now;
  return (
    <p className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 border-l-4 border-slate bg-card px-4 py-2">
      <span className="text-[22px] font-[760] text-slate">{left > 0 ? span(left) : over[stay.kind][0]}</span>
      <span>{left > 0 ? during[stay.kind](`${otherDay(to)}${atTime(to)}`) : over[stay.kind][1]}</span>
      <button className="btn btn-quiet ml-auto" onClick={onEnd} disabled={busy}>
        {ends[stay.kind]}
      </button>
    </p>
  );
}

function StayClock({ sheet, rests }: { sheet: Sheet; rests: boolean }) {
  const stay = useStay(sheet.job.id);
  if (sheet.job.closed_at) return null;
  if (sheet.stay) return <Running sheet={sheet} onEnd={stay.end} busy={stay.busy} />;
  const warm = sheet.warm_minutes;
  return (
    <p className="mt-2 flex flex-wrap items-center gap-2">
      {rests && (
        <button className="btn btn-line" onClick={() => stay.begin("rest", sheet.rest_minutes)} disabled={stay.busy}>
          Let it rest {restTime(sheet.rest_minutes)}
        </button>
      )}
      {warm !== undefined && (
        <button className="btn btn-line" onClick={() => stay.begin("warm")} disabled={stay.busy}>
          Let it warm up {span(warm * 60_000)}
        </button>
      )}
      <span className="text-[14px] text-soft">The clock calls when it is over, on every device signed in.</span>
      {stay.error && (
        <span role="alert" className="text-oxide">
          {stay.error.message}
        </span>
      )}
    </p>
  );
}

/** Minutes from now to eight of a morning so many days on. */
function toMorning(days: number): number {
  const at = new Date(serverNow());
  at.setDate(at.getDate() + days);
  at.setHours(8, 0, 0, 0);
  return Math.max(1, Math.round((at.getTime() - serverNow()) / 60_000));
}

/** It waits for parts: until when, in a tap. */
export function Parts({ sheet }: { sheet: Sheet }) {
  const stay = useStay(sheet.job.id);
  if (sheet.job.closed_at) return null;
  if (sheet.stay) return <Running sheet={sheet} onEnd={stay.end} busy={stay.busy} />;
  const when: [string, () => number][] = [
    ["in 2 h", () => 120],
    ["tomorrow, 8:00", () => toMorning(1)],
    ["in 3 days", () => toMorning(3)],
    ["in a week", () => toMorning(7)],
  ];
  return (
    <div className="mt-4">
      <p className="cap">Waits for parts</p>
      <div className="mt-1 flex flex-wrap gap-2">
        {when.map(([word, minutes]) => (
          <button
            key={word}
            className="btn btn-line px-3!"
            disabled={stay.busy}
            onClick={() => stay.begin("parts", minutes())}
          >
            {word}
          </button>
        ))}
      </div>
      {stay.error && (
        <p role="alert" className="mt-1 text-oxide">
          {stay.error.message}
        </p>
      )}
    </div>
  );
}
