import { Link } from "react-router";
import type { ChangeView } from "../../lib/api";
import { dayAndTime } from "../../lib/time";

/** Changes, the newest first: who, when, what, from what to what. */
export function Changes({ changes, ofJob = false }: { changes: ChangeView[]; ofJob?: boolean }) {
  return (
    <ol className="border-b border-line">
      {changes.map((c) => (
        <li key={c.id} className="grid gap-x-8 gap-y-0.5 border-t border-line py-2.5 md:grid-cols-[260px_1fr]">
          <span className="text-soft">
            {dayAndTime(c.at)}
            {c.by && `, ${c.by}`}
          </span>
          <div className="min-w-0">
            <p>
              <b className="font-[640]">{c.text}</b>
              {!ofJob &&
                c.about &&
                (c.job_id ? (
                  <>
                    {" "}
                    <Link
                      className="-my-3 inline-flex min-h-11 min-w-11 items-center underline"
                      to={`/jobs/${c.job_id}`}
                    >
                      {c.about}
                    </Link>
                  </>
                ) : (
                  ` ${c.about}`
                ))}
            </p>
            {c.changes.length > 0 &&
              (c.changes.every((d) => !d.was) ? (
                <p className="text-[14.5px] break-words">
                  {c.changes.map((d) => (d.what ? `${d.what}: ${d.became}` : d.became)).join(" · ")}
                </p>
              ) : (
                <ul className="text-[14.5px]">
                  {c.changes.map((d) => (
                    <li key={d.what} className="break-words">
                      {d.what && `${d.what}: `}
                      {d.was && <span className="text-soft line-through">{d.was}</span>}
                      {d.was && d.became && " → "}
                      {d.became || (d.was && " taken out")}
                    </li>
                  ))}
                </ul>
              ))}
          </div>
        </li>
      ))}
    </ol>
  );
}
