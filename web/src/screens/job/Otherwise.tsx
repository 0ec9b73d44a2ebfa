import type { Judgement, Rule } from "../../lib/api";

/** Where another school of a house rule would have judged otherwise. */
export function Otherwise({ shown, book }: { shown: Judgement; book: Rule[] | undefined }) {
  if (shown.other_schools.length === 0) return null;
  return (
    <div className="mt-3">
      <p className="cap">By another school it would be</p>
      <ul>
        {shown.other_schools.map((o) => (
          <li key={o.rule + o.school} className="border-t border-line py-2 text-[14.5px] leading-snug">
            <b className="font-[640]">{o.headline}</b>
            <span className="block text-[13px] text-soft">
              {book?.find((r) => r.id === o.rule)?.title ?? o.rule}: {o.school}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
