import type { Gauge } from "../../lib/api";
import { Dipstick, MiniStick } from "../../parts/Dipstick";
import { Sign, tone } from "../../parts/Sign";
import type { Entry } from "./useEntry";

/** A dipstick, greyed while it is not of the figure that stands beside it. */
export function Stick({ gauge, judging }: { gauge: Gauge; judging: Entry["judging"] }) {
  return (
    <div
      data-judging={judging}
      className={judging === "done" ? "" : "opacity-35 grayscale transition-opacity delay-300 duration-200"}
    >
      <Dipstick gauge={gauge} name={gauge.name} />
    </div>
  );
}

/** Several sticks in a row, small; one alone is whole. */
export function Sticks({ gauges, judging }: { gauges: Gauge[]; judging: Entry["judging"] }) {
  const [one] = gauges;
  if (!one) return null;
  if (gauges.length === 1) return <Stick gauge={one} judging={judging} />;
  return (
    <div
      data-judging={judging}
      className={`grid grid-cols-4 gap-x-4 ${judging === "done" ? "" : "opacity-35 grayscale transition-opacity delay-300 duration-200"}`}
    >
      {gauges.map((g) => (
        <div key={g.quantity} role="img" aria-label={`${g.name}: ${g.label}`}>
          <p className={`flex items-center gap-1.5 text-[15px] font-[740] ${tone[g.level]}`}>
            <Sign kind={g.level} size={13} bare /> {g.label}
          </p>
          <MiniStick gauge={g} />
          <p className="text-[12.5px] leading-tight font-[600]" style={{ fontStretch: "84%" }}>
            {g.notches
              .filter((n) => !n.ghost)
              .map((n) => n.word)
              .join(", ")}
          </p>
        </div>
      ))}
    </div>
  );
}
