import { Link } from "react-router";
import type { Guide } from "../../lib/api";
import { Dipstick } from "../../parts/Dipstick";
import { Sign } from "../../parts/Sign";

const rows = [
  { quantity: "lid_volts", kind: "lid_leakage", word: "Lid leakage" },
  { quantity: "rest_volts", kind: "rest_voltage", word: "Rest volts" },
  { quantity: "drop_live", kind: "cable_drop", word: "Drop, live path" },
  { quantity: "drop_earth", kind: "cable_drop", word: "Drop, earthed path" },
];

/** What was read before and after, on the same stick; what is not read yet is a tap away. */
export function Proof({ guide, job, enter }: { guide: Guide; job: string; enter: string[] }) {
  const asked = rows.filter((r) => enter.includes(r.kind) || guide.proof.some((g) => g.quantity === r.quantity));
  return (
    <div className="flex flex-col gap-2">
      {asked.map((r) => {
        const gauge = guide.proof.find((g) => g.quantity === r.quantity);
        return (
          <div key={r.quantity} className="flex items-center gap-3 border-b border-line pb-1.5">
            <div className="min-w-0 flex-1">
              <p className="flex items-center gap-2 text-[15px] font-[660]">
                {gauge?.band && <Sign kind={gauge.level} bare />}
                {r.word} {!gauge && <span className="font-[500] text-soft">not read</span>}
              </p>
              {gauge && <Dipstick gauge={gauge} name={r.word} />}
            </div>
            <Link className="btn btn-line shrink-0 px-3!" to={`/jobs/${job}?at=${r.kind}&guide=${guide.what}`}>
              {gauge?.band ? "Again" : "Read"}
            </Link>
          </div>
        );
      })}
    </div>
  );
}
