import type { ReactNode } from "react";
import type { ReadingView, Sheet, StationView } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";
import { when } from "../../lib/time";
import { MiniStick } from "../../parts/Dipstick";
import { Sign, tone } from "../../parts/Sign";

/**
 * The stations in working order, on a stick that stands on end and is wetted as
 * far as the job has got; each that is done shows its figure and a stick of its own.
 */
export function Rail(props: { sheet: Sheet; at: StationView; onOpen: (code: string) => void; children: ReactNode }) {
  const { sheet, at } = props;
  const { stations } = sheet;
  const reached = stations.findLastIndex((s) => s.summary);
  const last = (s: StationView) => sheet.readings.find((r) => r.id === s.taken.at(-1));
  return (
    <nav
      aria-label="Stations"
      id="stations"
      className="max-md:order-last max-md:border-t max-md:border-line md:border-r md:border-line"
    >
      <div className="pb-3 md:sticky md:top-14 md:max-h-[calc(100vh-56px-var(--strip-h))] md:overflow-y-auto">
        <Head sheet={sheet} />
        <ol>
          {stations.map((s, i) => (
            <li key={s.code}>
              <Stop
                n={i + 1}
                station={s}
                open={s.code === at.code}
                wet={i <= reached ? "full" : "dry"}
                end={i === stations.length - 1}
                last={last(s)}
                said={s.code === "arrive" && sheet.job.note ? `“${sheet.job.note}”` : undefined}
                onOpen={() => props.onOpen(s.code)}
              />
            </li>
          ))}
        </ol>
        <div className="mt-3 flex flex-wrap px-2">{props.children}</div>
      </div>
    </nav>
  );
}

function Head({ sheet: { job } }: { sheet: Sheet }) {
  if (useNarrow()) return null;
  const tag = job.battery.tag ?? "";
  return (
    <div className="relative flex min-h-[50px] flex-wrap items-baseline gap-x-2.5 px-4 pt-2 pb-1.5 pl-[46px]">
      <svg width="28" height="34" viewBox="0 0 28 34" className="absolute top-[11px] bottom-0 left-2" aria-hidden>
        <circle cx="14" cy="12" r="9.5" fill="none" stroke="var(--ink)" strokeWidth="3" />
      </svg>
      <span
        aria-hidden
        className="absolute top-[34px] bottom-0 left-[16px] w-[12px] border-x-2 border-t-2 border-ink bg-wet"
      />
      <h1
        className={`tight leading-none font-extrabold break-words ${tag.length > 12 ? "text-[18px]" : "text-[27px]"}`}
      >
        {tag}
      </h1>
      <p className="line-clamp-2 min-w-0 text-[14px] leading-tight font-[600] break-words" title={job.vehicle.name}>
        {job.vehicle.name}
      </p>
    </div>
  );
}

type StopProps = {
  n: number;
  station: StationView;
  open: boolean;
  wet: "full" | "dry";
  end: boolean;
  last: ReadingView | undefined;
  /** The customer's own words, where they say more than the line. */
  said: string | undefined;
  onOpen: () => void;
};

function Stop({ n, station, open, wet, end, last, said, onOpen }: StopProps) {
  const done = station.summary !== undefined;
  const chief = station.gauges[0];
  const figure = done ? station.figure : undefined;
  return (
    <button
      onClick={onOpen}
      aria-current={open ? "step" : undefined}
      title={last && `${when(last.at)}, ${last.by}`}
      className={`relative block min-h-[48px] w-full py-1.5 pr-4 pl-[46px] leading-tight text-left hover:bg-hush ${open ? "bg-card" : ""} ${done || open ? "" : "text-soft"}`}
    >
      <span
        aria-hidden
        className={`absolute inset-y-0 left-[16px] w-[12px] border-x-2 border-ink ${wet === "full" ? "bg-wet" : "bg-card"} ${end ? "bottom-2 border-b-2" : ""}`}
      />
      {open ? (
        <span aria-hidden className="absolute top-[19px] left-[9px] h-[3px] w-[26px] bg-copper" />
      ) : (
        done && (
          <span aria-hidden className="absolute top-[8px] left-[12px] rounded-full bg-paper p-0.5">
            <Sign kind={station.level} size={16} bare />
          </span>
        )
      )}
      <span className="flex items-baseline justify-between gap-2">
        <span className={`whitespace-nowrap ${open ? "text-[16.5px] font-[740] wide:text-[18px]" : "font-[620]"}`}>
          <span className={open ? "text-copper" : "text-soft"}>{n}</span> {station.name}
        </span>
        {figure && (
          <span className="text-[17px] leading-none font-[750] whitespace-nowrap wide:text-[19px]">
            {figure} <span className="text-[13px] font-medium text-soft">{station.unit}</span>
          </span>
        )}
      </span>
      {figure && chief?.band ? (
        <span className="block">
          <MiniStick gauge={chief} />
        </span>
      ) : (
        done && (
          <span
            className={`line-clamp-1 text-[13.5px] leading-snug ${station.level === "note" ? "text-soft" : tone[station.level]}`}
          >
            {said ?? station.summary}
          </span>
        )
      )}
      {figure && chief?.band && <span className="sr-only">{station.summary}</span>}
    </button>
  );
}
