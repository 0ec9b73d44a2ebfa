import type { ReadingView, Sheet } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { dayAndTime } from "../../lib/time";
import { Sign } from "../../parts/Sign";
import { LabelPlate } from "./LabelPlate";

/** The sheet on one page of paper: what was read, what is concluded, and why. */
export function PrintSheet({ sheet }: { sheet: Sheet }) {
  const { job } = sheet;
  const live = sheet.in_effect.map((id) => sheet.readings.find((r) => r.id === id)!);
  const past = sheet.readings.filter((r) => r.replaced_by || r.withdrawn);
  const person = usePerson();
  const complaint = sheet.stations.find((s) => s.code === "arrive")?.summary;
  return (
    <article className="print-only">
      <header className="flex items-end gap-4 border-b-2 border-ink pb-2">
        <div>
          <p className="text-[12px]">{person.workshop} · battery job sheet</p>
          <h1 className="tight text-[30px] leading-none font-extrabold">{job.battery.tag}</h1>
          <p className="mt-1 font-[600]">
            {job.vehicle.name}
            {job.customer && ` · ${job.customer}`}
          </p>
          {(complaint || job.note) && (
            <p>Complaint: {[complaint, job.note && `“${job.note}”`].filter(Boolean).join(" · ")}</p>
          )}
        </div>
        <div className="ml-auto">
          <LabelPlate sheet={sheet} />
        </div>
      </header>
      <p className="mt-3 flex items-center gap-2 text-[22px] font-[780]">
        <Sign kind={sheet.level} size={18} /> {sheet.headline}
      </p>
      <p>{sheet.because}</p>
      <p className="mt-1">
        <b className="font-[720]">For the customer:</b> {sheet.customer}
      </p>
      <h2 className="mt-3 font-[720]">Readings</h2>
      <table className="w-full text-left">
        <tbody>
          {live.map((r) => (
            <tr key={r.id} className="border-t border-line">
              <td className="py-0.5 pr-3 font-[600]">{r.text}</td>
              <td className="pr-3">{r.figure && (r.how ?? "how it was taken was not said")}</td>
              <td className="pr-3 whitespace-nowrap">{dayAndTime(r.at)}</td>
              <td>{r.by}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {past.length > 0 && (
        <>
          <h2 className="mt-3 font-[720]">Corrected and taken back</h2>
          <ul>
            {past.map((r) => (
              <li key={r.id} className="border-t border-line py-0.5">
                {r.text}
                {r.how && r.figure && `, ${r.how}`}, {dayAndTime(r.at)}, {r.by}:{" "}
                {r.withdrawn ? `taken back by ${r.withdrawn}` : correction(sheet, r)}
              </li>
            ))}
          </ul>
        </>
      )}
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
          Opened {dayAndTime(job.opened_at)} by {job.opened_by}
        </span>
        {job.closed_at && (
          <span>
            Handed over {dayAndTime(job.closed_at)} by {job.closed_by}
          </span>
        )}
        <span className="ml-auto">Signed ____________________</span>
      </footer>
    </article>
  );
}

/** What became of a reading that was corrected. */
function correction(sheet: Sheet, of: ReadingView): string {
  const by = sheet.readings.find((r) => r.id === of.replaced_by);
  return by ? `corrected to ${by.text}, ${dayAndTime(by.at)}, ${by.by}` : "corrected";
}
