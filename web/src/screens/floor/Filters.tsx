import { useSearchParams } from "react-router";
import type { Tally } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";

/** From so many jobs in hand on, choosing among them is worth a row of its own; more on a phone, where room is dear. */
const MANY = 12;
const MANY_ON_A_PHONE = 20;

type Wait = "hands" | "clock";
type Narrowed = { wait?: Wait; by?: string };
type Filter = Narrowed & { set: (part: { wait?: string; by?: string }) => void };

/** What the floor is narrowed to, kept in the address. */
export function useFilter(): Filter {
  const [params, setParams] = useSearchParams();
  const wait = params.get("wait");
  const by = params.get("by");
  return {
    ...(wait === "hands" || wait === "clock" ? { wait } : {}),
    ...(by ? { by } : {}),
    set: (part) =>
      setParams((old) => {
        const next = new URLSearchParams(old);
        for (const [name, value] of Object.entries(part)) {
          if (value) next.set(name, value);
          else next.delete(name);
        }
        return next;
      }),
  };
}

/** How many jobs of a tally are as they are asked for. */
export const count = (tally: Tally[], part: Narrowed) =>
  tally
    .filter((t) => part.by === undefined || t.by === part.by)
    .reduce((n, t) => n + (part.wait === "clock" ? 0 : t.hands) + (part.wait === "hands" ? 0 : t.clock), 0);

/** The floor by what its batteries wait for, and by who had them in hand last. */
export function Filters({ tally, filter }: { tally: Tally[]; filter: Filter }) {
  const { wait, by } = filter;
  const many = useNarrow() ? MANY_ON_A_PHONE : MANY;
  const all = count(tally, {});
  if (all < many && !wait && !by) return null;
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-1" role="group" aria-label="Narrow the floor">
      <span className="flex flex-wrap gap-1">
        <Toggle on={!wait && !by} word="All" n={all} onPress={() => filter.set({ wait: "", by: "" })} />
        {(
          [
            ["hands", "For hands"],
            ["clock", "For the clock"],
          ] as const
        ).map(([code, word]) => (
          <Toggle
            key={code}
            on={wait === code}
            word={word}
            n={count(tally, { wait: code })}
            onPress={() => filter.set({ wait: wait === code ? "" : code })}
          />
        ))}
      </span>
      {tally.length > 1 && (
        <span className="flex flex-wrap gap-1">
          {tally.map(({ by: name }) => (
            <Toggle
              key={name}
              on={by === name}
              word={name}
              n={count(tally, { by: name })}
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
