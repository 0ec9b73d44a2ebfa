import { Collapsible } from "radix-ui";
import type { ReadingView } from "../../lib/api";
import { when } from "../../lib/time";

/** All readings of a kind, corrected and withdrawn ones struck through: nothing is ever lost. */
export function History({ all, kinds, from = 2 }: { all: ReadingView[]; kinds: string[]; from?: number }) {
  const rows = all.filter((r) => kinds.includes(r.reading.kind));
  if (rows.length < from && !rows.some((r) => r.withdrawn)) return null;
  return (
    <Collapsible.Root className="mt-3">
      <Collapsible.Trigger className="btn btn-quiet px-0!">
        History, {rows.length} {rows.length === 1 ? "reading" : "readings"}
      </Collapsible.Trigger>
      <Collapsible.Content>
        <ol className="mt-1 border-l-[3px] border-line pl-4">
          {rows.map((r) => (
            <li key={r.id} className="py-1">
              <span className={r.replaced_by || r.withdrawn ? "text-soft line-through" : "font-[600]"}>{r.text}</span>
              <span className="text-soft">
                {r.how && r.figure && ` · ${r.how}`} · {when(r.at)}, {r.by}
                {r.replaced_by && " · corrected"}
                {r.replaces && " · a correction"}
                {r.withdrawn && ` · taken back by ${r.withdrawn}`}
              </span>
            </li>
          ))}
        </ol>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
