import { useState } from "react";
import type { Guide } from "../../lib/api";

type Level = "plates_dry" | "covered" | "fill_mark" | "over";

/** How high the acid stands in each cell: a tap on a cell goes through what it can be. */
export function Levels({ guide, onSave }: { guide: Guide; onSave: (cells: Level[]) => void }) {
  const words = guide.cell_words;
  const [cells, setCells] = useState<Level[]>(() =>
    Array.from({ length: guide.drawn.cells }, (_, i) => (guide.levels[i] as Level | undefined) ?? "covered"),
  );
  const height: Record<string, number> = { plates_dry: 22, covered: 48, fill_mark: 74, over: 92 };
  return (
    <div>
      <div className="flex gap-1.5" role="group" aria-label="Level of each cell">
        {cells.map((code, i) => {
          const at = words.findIndex((w) => w.code === code);
          return (
            <button
              key={i}
              className="relative h-[min(34dvh,300px)] min-w-0 flex-1 overflow-hidden rounded-sm border-[1.5px] border-ink bg-card"
              onClick={() =>
                setCells(
                  cells.map((c, j) =>
                    j === i ? ((words[(at + 1) % words.length]?.code as Level | undefined) ?? c) : c,
                  ),
                )
              }
            >
              <span className="absolute inset-x-0 bottom-0 bg-slate/35" style={{ height: `${height[code] ?? 50}%` }} />
              <span className="absolute inset-x-2 bottom-0 h-[36%] bg-[repeating-linear-gradient(90deg,var(--ink)_0_2px,transparent_2px_7px)]" />
              <span className="absolute inset-x-0 top-[26%] border-t-2 border-dashed border-verdigris" />
              <b className="absolute inset-x-0 top-1 text-center text-[17px] font-[720]">
                <span className="sr-only">Cell </span>
                {i + 1}
              </b>
              <span className="tight absolute inset-x-0 bottom-1 px-0.5 text-center text-[12px] leading-none font-[660]">
                <span className="bg-card px-0.5">
                  {words[at]?.word.replace("Plates ", "").replace(" the mark", " mark")}
                </span>
              </span>
            </button>
          );
        })}
      </div>
      <button data-done className="btn btn-act mt-3 min-h-[72px]! w-full text-[22px]!" onClick={() => onSave(cells)}>
        Note the levels
      </button>
    </div>
  );
}
