import type { ReactNode } from "react";
import type { ReadingView, StationView } from "../../lib/api";
import { when } from "../../lib/time";
import { MiniStick } from "../../parts/Dipstick";
import { Sign, tone } from "../../parts/Sign";

/** One station of the sheet: open and large, or folded to a line. */
export function Station(props: {
  n: number;
  station: StationView;
  open: boolean;
  last: ReadingView | undefined;
  onOpen: () => void;
  children: ReactNode;
}) {
  const { station, last } = props;
  if (props.open) {
    return (
      <section aria-label={station.name} className="border-b border-line py-4">
        {props.children}
      </section>
    );
  }
  const chief = station.gauges[0];
  return (
    <button
      onClick={props.onOpen}
      className={`grid min-h-[52px] w-full grid-cols-[92px_minmax(0,1fr)_auto] items-center gap-x-3 border-b border-line py-1.5 text-left hover:bg-hush md:grid-cols-[112px_minmax(0,1fr)_auto] ${station.summary ? "" : "text-soft"}`}
    >
      <span className="font-[600]">
        {props.n} {station.name}
      </span>
      {station.summary && (
        <>
          <span className="flex min-w-0 items-center gap-2.5">
            {station.level !== "note" && <Sign kind={station.level} />}
            <span className={`truncate font-[620] ${tone[station.level]}`}>{station.summary}</span>
          </span>
          <span className="flex items-center gap-3 text-[13.5px] text-soft">
            {chief && (
              <span className="hidden lg:block">
                <MiniStick gauge={chief} />
              </span>
            )}
            {last && <span className="hidden md:inline">{`${when(last.at)} ${last.by}`}</span>}
          </span>
        </>
      )}
    </button>
  );
}

export function StationTitle({ n, name, hint }: { n: number; name: string; hint: string }) {
  return (
    <div className="mb-3 flex flex-wrap items-baseline gap-x-3.5">
      <h2 className="text-[21px] font-[760]" style={{ fontStretch: "90%" }}>
        {n} {name}
      </h2>
      <span className="hidden text-soft md:inline">{hint}</span>
    </div>
  );
}
