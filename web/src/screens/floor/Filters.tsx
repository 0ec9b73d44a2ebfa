import { useSearchParams } from "react-router";
import type { JobLine } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";

/** From so many jobs in hand on, choosing among them is worth a row of its own; more on a phone, where room is dear. */
const MANY = 12;
const MANY_ON_A_PHONE = 20;

type Filter = { wait: string; by: string; set: (part: Record<string, string>) => void; keeps: (l: JobLine) => boolean };

/** What the floor is narrowed to, kept in the address. */
export function useFilter(): Filter {
  const [params, setParams] = useSearchParams();
  const wait = params.get("wait") ?? "";
  const by = params.get("by") ?? "";
  return {
    wait,
    by,
    set: (part) =>
      setParams((old) => {
        const next = new URLSearchParams(old);
        for (const [name, value] of Object.entries(part)) {
          if (value) next.set(name, value);
          else next.delete(name);
        }
        return next;
      }),
    keeps: (l) => (!wait || (wait === "clock") === (l.wait.at !== undefined)) && (!by || l.by === by),
  };
}

/** The floor by what its batteries wait for, and by who had them in hand last. */
export function Filters({ lines, filter }: { lines: JobLine[]; filter: Filter }) {
  const { wait, by } = filter;
  const many = useNarrow() ? MANY_ON_A_PHONE : MANY;
  if (lines.length < many && !wait && !by) return null;
  const people = [...new Set(lines.map((l) => l.by))].sort();
  const count = (part: Partial<Record<"wait" | "by", string>>) =>
    lines.filter(
      (l) =>
        (part.wait === undefined || (part.wait === "clock") === (l.wait.at !== undefined)) &&
        (part.by === undefined || l.by === part.by),
    ).length;
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-1" role="group" aria-label="Narrow the floor">
      <span className="flex flex-wrap gap-1">
        <Toggle on={!wait && !by} word="All" n={lines.length} onPress={() => filter.set({ wait: "", by: "" })} />
        {[
          ["hands", "For hands"],
          ["clock", "For the clock"],
        ].map(([code = "", word]) => (
          <Toggle
            key={code}
            on={wait === code}
            word={word!}
            n={count({ wait: code })}
            onPress={() => filter.set({ wait: wait === code ? "" : code })}
          />
        ))}
      </span>
      {people.length > 1 && (
        <span className="flex flex-wrap gap-1">
          {people.map((name) => (
            <Toggle
              key={name}
              on={by === name}
              word={name}
              n={count({ by: name })}
              onPress={() => filter.set({ by: by === name ? "" : name })}
            />
          ))}
        </span>
      )}
    </div>
  );
}

function Toggle({ on, word, n, onPress }: { on: boolean; word: string; n: number; onPress: () => void }) {
  return (
    <button
      aria-pressed={on}
      onClick={onPress}
      className={`flex min-h-11 items-center gap-1.5 rounded-sm border-[1.5px] px-3 text-[14.5px] font-[560] ${on ? "border-ink bg-ink text-paper" : "border-line bg-card hover:border-soft"}`}
    >
      <span className="max-w-[160px] truncate">{word}</span> {n}
    </button>
  );
}
