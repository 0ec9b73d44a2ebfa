import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Guide } from "../../lib/api";
import { readNumber } from "../../lib/units";
import { Dipstick } from "../../parts/Dipstick";
import { NumberEntry } from "../../parts/NumberEntry";
import { Sign } from "../../parts/Sign";
import { sendReading } from "./readings";

const rows = [
  { quantity: "lid_volts", kind: "lid_leakage", word: "Lid leakage" },
  { quantity: "rest_volts", kind: "rest_voltage", word: "Rest volts" },
  { quantity: "drop_live", kind: "cable_drop", word: "Drop, live path" },
  { quantity: "drop_earth", kind: "cable_drop", word: "Drop, earthed path" },
];

/** What was read before and after, on the same stick; what is not read yet is a tap away. */
export function Proof({ guide, job, enter }: { guide: Guide; job: string; enter: string[] }) {
  const [entering, setEntering] = useState(false);
  const asked = rows.filter((r) => enter.includes(r.kind) || guide.proof.some((g) => g.quantity === r.quantity));
  if (entering) return <Lid guide={guide} job={job} onDone={() => setEntering(false)} />;
  return (
    <div className="flex flex-col gap-2">
      {asked.map((r) => {
        const gauge = guide.proof.find((g) => g.quantity === r.quantity);
        const read = gauge?.band ? "Again" : "Read";
        return (
          <div key={r.quantity} className="flex items-center gap-3 border-b border-line pb-1.5">
            <div className="min-w-0 flex-1">
              <p className="flex items-center gap-2 text-[15px] font-[660]">
                {gauge?.band && <Sign kind={gauge.level} bare />}
                {r.word} {!gauge && <span className="font-[500] text-soft">not read</span>}
              </p>
              {gauge && <Dipstick gauge={gauge} name={r.word} />}
            </div>
            {guide.closed ? null : r.kind === "lid_leakage" ? (
              <button
                className="btn btn-line shrink-0 px-3!"
                aria-label={`${read}: ${r.word}`}
                onClick={() => setEntering(true)}
              >
                {read}
              </button>
            ) : (
              <Link
                className="btn btn-line shrink-0 px-3!"
                aria-label={`${read}: ${r.word}`}
                to={`/jobs/${job}?at=${r.kind}`}
              >
                {read}
              </Link>
            )}
          </div>
        );
      })}
    </div>
  );
}

/** The lid is read where one cleans, without leaving the guide. */
function Lid({ guide, job, onDone }: { guide: Guide; job: string; onDone: () => void }) {
  const queries = useQueryClient();
  const [text, setText] = useState("");
  const volts = readNumber(text);
  useEffect(() => {
    document.querySelector<HTMLElement>("main input")?.focus();
  }, []);
  const save = () => {
    if (volts === undefined) return;
    sendReading(queries, job, guide.tag, { kind: "lid_leakage", volts }, `Lid leakage ${text} V`);
    onDone();
  };
  return (
    <NumberEntry
      label="Post to lid, the highest"
      unit="V"
      value={text}
      onChange={setText}
      onEnter={save}
      big
      first
      action={
        <div className="mt-2 flex gap-2">
          <button className="btn btn-line" onClick={onDone}>
            Back
          </button>
          <button data-saves className="btn flex-1" disabled={volts === undefined} onClick={save}>
            Save
          </button>
        </div>
      }
    />
  );
}
