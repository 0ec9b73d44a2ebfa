import type { ReactNode } from "react";
import type { Gauge, ReadingView } from "../../lib/api";
import { when } from "../../lib/time";
import { MiniStick } from "../../parts/Dipstick";
import { Sign, tone, type SignKind } from "../../parts/Sign";

export type Summary = { kind: SignKind; text: string; gauge?: Gauge; by?: ReadingView };

/** One station of the sheet: open and large, or folded to a line. */
export function Station(props: {
  n: number;
  name: string;
  open: boolean;
  summary: Summary | undefined;
  onOpen: () => void;
  children: ReactNode;
}) {
  const { summary } = props;
  if (props.open) {
    return (
      <section aria-label={props.name} className="border-b border-line py-4">
        {props.children}
      </section>
    );
  }
  return (
    <button
      onClick={props.onOpen}
      className={`grid min-h-[52px] w-full grid-cols-[92px_minmax(0,1fr)_auto] items-center gap-x-3 border-b border-line py-1.5 text-left hover:bg-hush md:grid-cols-[112px_minmax(0,1fr)_auto] ${summary ? "" : "text-soft"}`}
    >
      <span className="font-[600]">
        {props.n} {props.name}
      </span>
      {summary && (
        <>
          <span className="flex min-w-0 items-center gap-2.5">
            {summary.kind !== "note" && <Sign kind={summary.kind} />}
            <span className={`truncate font-[620] ${tone[summary.kind]}`}>{summary.text}</span>
          </span>
          <span className="flex items-center gap-3 text-[13.5px] text-soft">
            {summary.gauge && (
              <span className="hidden lg:block">
                <MiniStick gauge={summary.gauge} />
              </span>
            )}
            {summary.by && <span className="hidden md:inline">{`${when(summary.by.at)} ${summary.by.by}`}</span>}
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
