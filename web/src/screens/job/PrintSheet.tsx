import type { Sheet } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { onDay, when } from "../../lib/time";
import { Sign } from "../../parts/Sign";
import { LabelPlate } from "./LabelPlate";

/** The sheet on one page of paper: what was read, what is concluded, and why. */
export function PrintSheet({ sheet }: { sheet: Sheet }) {
  const { job } = sheet;
  const live = sheet.in_effect.map((id) => sheet.readings.find((r) => r.id === id)!);
  const person = usePerson();
  return (
    <article className="print-only">
      <header className="flex items-end gap-4 border-b-2 border-ink pb-2">
        <div>
          <p className="text-[11px]">{person.workshop} · battery job sheet</p>
          <h1 className="tight text-[30px] leading-none font-extrabold">{job.battery.tag}</h1>
          <p className="mt-1 font-[600]">
            {job.vehicle.name}
            {job.customer && ` · ${job.customer}`}
          </p>
          {job.note && <p>“{job.note}”</p>}
        </div>
        <div className="ml-auto">
          <LabelPlate sheet={sheet} />
        </div>
      </header>
      <p className="mt-3 flex items-center gap-2 text-[22px] font-[780]">
        <Sign kind={sheet.level} size={18} /> {sheet.headline}
      </p>
      <p>{sheet.because}</p>
      <h2 className="mt-3 font-[720]">Readings</h2>
      <table className="w-full text-left">
        <tbody>
          {live.map((r) => (
            <tr key={r.id} className="border-t border-line">
              <td className="py-0.5 font-[600]">{r.text}</td>
              <td>{r.figure && r.how}</td>
              <td>{when(r.at)}</td>
              <td>{r.by}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2 className="mt-3 font-[720]">Conclusions and their reasons</h2>
      <ul>
        {sheet.findings.map((f, i) => (
          <li key={i} className="border-t border-line py-1 leading-snug">
            <span className="inline-block translate-y-0.5 pr-1.5">
              <Sign kind={f.level} size={11} />
            </span>
            <b className="font-[600]">{f.text}</b> {f.why}{" "}
            <i className="text-soft">
              {[f.source, f.other_school && `other school, ${f.other_school}`].filter(Boolean).join("; ")}
            </i>
          </li>
        ))}
      </ul>
      {!job.closed_at && sheet.next.length > 0 && (
        <p className="mt-3">
          <b className="font-[720]">Next:</b> {sheet.next.map((n) => n.do.toLowerCase()).join(", then ")}.
        </p>
      )}
      <footer className="mt-8 flex gap-8 border-t border-ink pt-2">
        <span>
          Opened {onDay(job.opened_at)} by {job.opened_by}
        </span>
        {job.closed_at && (
          <span>
            Handed over {onDay(job.closed_at)} by {job.closed_by}
          </span>
        )}
        <span className="ml-auto">Signed ____________________</span>
      </footer>
    </article>
  );
}
