import type { GuideStep } from "../../lib/api";
import { useWidth } from "../../lib/width";

/** Which steps put back what others take off. */
function pairs(steps: GuideStep[]) {
  const out: { from: number; to: number }[] = [];
  steps.forEach((s, from) => {
    for (const part of s.off ?? []) {
      const to = steps.findIndex((t, j) => j > from && (t.back ?? []).includes(part));
      if (to > from && !out.some((p) => p.from === from && p.to === to)) out.push({ from, to });
    }
  });
  return out;
}

/** The steps on a line, and an arc from what comes off to where it goes back: the first off is the last on. */
export function Arcs({ steps, done, at }: { steps: GuideStep[]; done: Set<string>; at: number }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const gap = (width - 28) / Math.max(1, steps.length - 1);
  const x = (i: number) => 14 + i * gap;
  const y = 44;
  const all = pairs(steps);
  const longest = Math.max(1, ...all.map((p) => p.to - p.from));
  const own = all.find((p) => p.from === at || p.to === at);
  return (
    <div ref={ref} aria-hidden>
      <svg width={width} height="60" className="block">
        <path d={`M${x(0)} ${y}H${x(steps.length - 1)}`} stroke="var(--line)" strokeWidth="2" />
        {all.map((p) => {
          const mine = p === own;
          const over = done.has(steps[p.from]!.code) && done.has(steps[p.to]!.code);
          const half = done.has(steps[p.from]!.code);
          const rise = 6 + 32 * ((p.to - p.from) / longest);
          return (
            <path
              key={`${p.from}-${p.to}`}
              d={`M${x(p.from)} ${y - 5}C${x(p.from)} ${y - rise * 1.3} ${x(p.to)} ${y - rise * 1.3} ${x(p.to)} ${y - 5}`}
              fill="none"
              stroke={mine ? "var(--copper)" : over || half ? "var(--verdigris)" : "var(--line)"}
              strokeWidth={mine ? 2.6 : 1.6}
            />
          );
        })}
        {steps.map((s, i) =>
          i === at ? (
            <path
              key={s.code}
              d={`M${x(i)} ${y - 9}l9 9-9 9-9-9Z`}
              fill="var(--card)"
              stroke="var(--copper)"
              strokeWidth="2.6"
            />
          ) : (
            <circle
              key={s.code}
              cx={x(i)}
              cy={y}
              r={own && (own.from === i || own.to === i) ? 5 : 4}
              fill={done.has(s.code) ? "var(--verdigris)" : "var(--card)"}
              stroke={
                own && (own.from === i || own.to === i)
                  ? "var(--copper)"
                  : done.has(s.code)
                    ? "var(--verdigris)"
                    : "var(--soft)"
              }
              strokeWidth="1.8"
            />
          ),
        )}
      </svg>
    </div>
  );
}
