import type { StoredBody } from "../../lib/api";
import { onDate } from "./scale";

/** The tag that hangs on a stored vehicle: printed, and nothing else. */
export function Tag({ body }: { body: StoredBody }) {
  const { line, doc, plan } = body;
  const way = plan.ways.find((w) => w.way === doc.way);
  return (
    <section aria-hidden className="hidden border-2 border-ink p-4 print:block">
      <p className="text-[44px] leading-none font-[800]">{line.tag}</p>
      <p className="text-[20px] font-[650]">{line.vehicle}</p>
      <p className="mt-3 text-[18px]">
        Put away {onDate(doc.from)}, wanted {onDate(doc.to)}. {way?.name}. {plan.label}.
      </p>
      <ul className="mt-3 text-[18px]">
        {(way?.needs ?? [])
          .filter((n) => n.code !== "put_away")
          .slice(0, 8)
          .map((n) => (
            <li key={n.date + n.code} className="flex gap-4 border-t border-line py-1.5">
              <b className="w-20">{onDate(n.date)}</b>
              <span className="flex-1">{n.do}</span>
              <span>______ V</span>
            </li>
          ))}
      </ul>
      <p className="mt-4 text-[16px]">Test before the first crank. Off the vehicle: clamp, cover, vent tube, key?</p>
      {doc.note && <p className="mt-2 text-[16px]">{doc.note}</p>}
    </section>
  );
}
