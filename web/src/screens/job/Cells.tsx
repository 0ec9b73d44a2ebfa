import { Delete } from "lucide-react";
import { useRef, useState } from "react";
import { useCoarse } from "../../lib/pointer";
import { gravity, readNumber } from "../../lib/units";
import { stroke } from "../../parts/NumberEntry";

type Props = {
  cells: number;
  /** How far under the highest a cell stands out. */
  apart: number;
  /** Bottom and top of the bars, as the dipstick has them. */
  scale: { min: number; max: number };
  value: string;
  onChange: (v: string) => void;
  onEnter: () => void;
  error: string | undefined;
};

/** The acid, cell by cell from the + post: each a figure over its bar, wetted as high as it reads. */
export function Cells({ cells, apart, scale, value, onChange, onEnter, error }: Props) {
  const all = value.split(" ");
  const fields = useRef<(HTMLInputElement | null)[]>([]);
  const coarse = useCoarse();
  const [at, setAt] = useState(0);
  const figures = Array.from({ length: cells }, (_, i) => all[i] ?? "");
  const set = (i: number, text: string) => {
    const next = figures.map((v, k) => (k === i ? text : v));
    onChange(next.some(Boolean) ? next.join(" ") : "");
    const digits = text.replace(/\D/g, "");
    if (digits.length === (digits.startsWith("1") ? 4 : 3) && i < cells - 1) fields.current[i + 1]?.focus();
  };
  const read = figures.map((v) => readNumber(gravity(v)));
  const known = read.filter((v): v is number => v !== undefined && v > 1);
  const most = Math.max(...known);
  return (
    <div>
      <p className="cap">Specific gravity, cell by cell from the + post</p>
      <div className="mt-1 grid gap-1.5" style={{ gridTemplateColumns: `repeat(${cells}, minmax(0, 1fr))` }}>
        {figures.map((v, i) => {
          const sg = read[i];
          const high = sg === undefined ? 0 : Math.min(1, Math.max(0, (sg - scale.min) / (scale.max - scale.min)));
          const lowest = sg !== undefined && known.length > 1 && most - sg >= apart - 1e-9;
          return (
            <label key={i} className="block min-w-0">
              <span className="sr-only">Cell {i + 1}</span>
              <input
                ref={(el) => {
                  fields.current[i] = el;
                }}
                data-first={i === 0 || undefined}
                data-cell={i + 1}
                value={v}
                placeholder={String(i + 1)}
                inputMode={coarse ? "none" : "decimal"}
                autoComplete="off"
                aria-invalid={error ? true : undefined}
                onFocus={(e) => {
                  setAt(i);
                  e.target.select();
                }}
                onChange={(e) => set(i, e.target.value)}
                onBlur={(e) => e.target.value && set(i, gravity(e.target.value))}
                onKeyDown={(e) => {
                  if (e.key !== "Enter" || e.ctrlKey || e.metaKey) return;
                  e.preventDefault();
                  if (i < cells - 1) fields.current[i + 1]?.focus();
                  else onEnter();
                }}
                className={`h-14 w-full min-w-0 border-b-[3px] bg-transparent text-center text-[19.5px] font-[740] tracking-tight outline-offset-0 md:text-[27px] ${error ? "border-oxide" : i === at ? "border-copper" : "border-line"} ${lowest ? "text-copper" : ""}`}
              />
              <svg
                viewBox="0 0 60 92"
                className="mt-1 block w-full"
                aria-hidden
                preserveAspectRatio="none"
                height={coarse ? 62 : 76}
              >
                <path d="M3 2H57V88H3Z" fill="var(--card)" stroke="var(--ink)" strokeWidth="2" />
                <rect
                  x="4"
                  y={88 - 85 * high}
                  width="52"
                  height={85 * high}
                  fill={lowest ? "var(--copper)" : "var(--wet)"}
                />
              </svg>
            </label>
          );
        })}
      </div>
      {error && (
        <p role="alert" className="mt-1.5 font-[560] text-oxide">
          {error}
        </p>
      )}
      {coarse && (
        <div className="mt-2 grid grid-cols-6 gap-2" role="group" aria-label="Keypad for the cells">
          {["1", "2", "3", "4", "5", "6", "7", "8", "9", "0", ".", "⌫"].map((key) => (
            <button
              key={key}
              type="button"
              className="flex h-[50px] items-center justify-center rounded-sm border-[1.5px] border-line bg-card text-[24px] font-[650] active:bg-hush"
              aria-label={key === "⌫" ? "Delete the last digit" : key}
              onPointerDown={(e) => e.preventDefault()}
              onClick={() => {
                fields.current[at]?.focus();
                set(at, stroke(figures[at]!, key));
              }}
            >
              {key === "⌫" ? <Delete size={24} aria-hidden /> : key}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}
