import { Link } from "react-router";
import type { Sheet } from "../../lib/api";
import { onDay } from "../../lib/time";
import { Sign, tone } from "../../parts/Sign";

/** It was here not long ago: the verdict it went with, beside the one that is being found now. */
export function Comeback({ sheet: { comeback } }: { sheet: Sheet }) {
  if (!comeback) return null;
  const c = comeback;
  return (
    <section aria-label="Comeback" className="mb-2 border-l-4 border-copper bg-card px-4 py-2">
      <p className="flex flex-wrap items-baseline gap-x-3 leading-snug">
        <b className="font-[720]">
          Back after {c.days === 0 ? "less than a day" : c.days === 1 ? "1 day" : `${c.days} days`}
          {!c.same_battery && `, then with ${c.tag}`}.
        </b>
        <span className={`flex items-baseline gap-1.5 font-[620] ${tone[c.opinion.level]}`}>
          <Sign kind={c.opinion.level} size={12} /> {c.opinion.headline}
        </span>
        <Link
          className="ml-auto flex min-h-12 items-center underline underline-offset-4"
          to={`/jobs/${c.job_id}?at=decide`}
        >
          That sheet
        </Link>
      </p>
      <p className="text-[14px] leading-snug text-soft">
        {[
          `Handed over ${onDay(c.closed_at)} by ${c.closed_by}`,
          c.came && `came for ${c.came}`,
          c.done.length > 0 ? c.done.join("; ") : "no work was noted",
          c.proved,
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
    </section>
  );
}
