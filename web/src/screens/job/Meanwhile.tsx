import { useState } from "react";
import type { Sheet } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { when } from "../../lib/time";
import { Sign } from "../../parts/Sign";

type Seen = { readings: string[]; version: number; closed: string | undefined };

const seenOf = (sheet: Sheet): Seen => ({
  readings: sheet.readings.map((r) => r.id + (r.replaced_by ?? r.withdrawn ?? "")),
  version: sheet.job.version,
  closed: sheet.job.closed_at,
});

/** Details that were changed on this device: its own change is news to nobody here. */
const own = new Set<string>();
const nameOf = (sheet: Sheet) => `${sheet.job.id} ${sheet.job.version}`;
export const changedHere = (sheet: Sheet) => void own.add(nameOf(sheet));

/** What others have changed on this sheet since it was opened here: nobody enters on a sheet that is not as it looks. */
export function Meanwhile({ sheet }: { sheet: Sheet }) {
  const person = usePerson();
  const [seen, setSeen] = useState(() => seenOf(sheet));
  const lines: string[] = [];
  for (const r of sheet.readings) {
    const known = seen.readings.some((id) => id.startsWith(r.id));
    const same = seen.readings.includes(r.id + (r.replaced_by ?? r.withdrawn ?? ""));
    if (!known && r.by !== person.name)
      lines.push(`${r.by} ${r.replaces ? "corrected it to" : "saved"} ${r.text}, ${when(r.at)}.`);
    else if (known && !same && r.withdrawn && r.withdrawn !== person.name)
      lines.push(`${r.withdrawn} took back ${r.text}.`);
  }
  if (sheet.job.closed_at !== seen.closed && sheet.job.closed_by !== person.name)
    lines.push(
      sheet.job.closed_at
        ? `${sheet.job.closed_by} handed it over, ${when(sheet.job.closed_at)}.`
        : "It was opened again.",
    );
  if (sheet.job.version !== seen.version && !own.has(nameOf(sheet)))
    lines.push("The label, the vehicle or the complaint was changed.");
  if (lines.length === 0) return null;
  return (
    <div role="status" className="mt-2 flex items-start gap-2.5 border-l-4 border-slate bg-card px-3.5 py-2">
      <span className="translate-y-1">
        <Sign kind="wait" bare />
      </span>
      <div className="min-w-0 flex-1">
        <b className="font-[700] text-slate">Meanwhile</b>
        {lines.map((line) => (
          <p key={line}>{line}</p>
        ))}
      </div>
      <button className="btn btn-quiet" onClick={() => setSeen(seenOf(sheet))}>
        Seen
      </button>
    </div>
  );
}
