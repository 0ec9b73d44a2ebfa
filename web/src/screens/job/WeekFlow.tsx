import { useId } from "react";
import type { Flow } from "../../lib/api";
import { keep, showNumber } from "../../lib/units";
import { useWidth } from "../../lib/width";
import { tone } from "../../parts/Sign";

const round = (ah: number) => showNumber(ah, ah >= 20 ? 0 : 1);
const hours = 168;

/** Shares a width out to streams side by side, in their order. */
function slots(streams: { wide: number }[], from: number): number[] {
  let at = from;
  return streams.map((s) => {
    at += s.wide;
    return at - s.wide / 2;
  });
}

/**
 * A week of a battery as a flow of ampere-hours, every width to scale: what comes in runs
 * into a jar, what goes out leaves it, and it stands where the two meet.
 */
export function WeekFlow({ flow }: { flow: Flow }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const id = useId();
  const narrow = width < 520;
  const jarW = narrow ? Math.min(128, width * 0.36) : 208;
  const jarX = narrow ? width * 0.27 : width * 0.5 - jarW / 2;
  const top = narrow ? 128 : 158;
  const tall = narrow ? 136 : 168;
  const bottom = top + tall;
  const floor = bottom + (narrow ? 92 : 104);
  const height = floor + 26;
  const most = Math.max(flow.in_ah, flow.out_ah, 0.1);
  const scale = (Math.min(jarW, tall) * 0.9) / most; // px for an ampere-hour
  const level = (pct: number) => bottom - 3 - ((tall - 12) * pct) / 100;
  const surface = level(flow.settles_pct.best);

  // One ribbon for each trip where they can be told apart, so that a week can be counted.
  const ribbons = flow.in.flatMap((line, group) => {
    const n = line.times && line.times <= 8 ? Math.max(1, Math.round(line.times)) : 1;
    return Array.from({ length: n }, (_, i) => ({ line, group, i, n, wide: (line.ah / n) * scale }));
  });
  const gap = 1.5;
  const mouth = ribbons.reduce((sum, r) => sum + r.wide + gap, 0);
  const into = slots(
    ribbons.map((r) => ({ wide: r.wide + gap })),
    jarX + jarW / 2 - mouth / 2,
  );
  const edge = narrow ? 0 : 24;
  const column = (width - 2 * edge) / Math.max(1, flow.in.length);
  const source = (r: (typeof ribbons)[number]) => {
    const middle = edge + column * (r.group + 0.5);
    const step = Math.max(r.wide + 4, Math.min(34, (column - 16) / r.n));
    return middle + (r.i - (r.n - 1) / 2) * Math.min(step, (column - 8) / r.n);
  };
  const start = narrow ? 58 : 66;

  const drain = flow.out.find((l) => l.code === "drain");
  const self = flow.out.find((l) => l.code === "self_discharge");
  const spouts = flow.out.filter((l) => l !== drain && l !== self);
  const fan = drain ? drain.ah * scale : 0;
  const middle = jarX + jarW / 2;
  const fanFrom = narrow ? 4 : 0;
  const fanTo = width - fanFrom;
  // From the bottom up, with room for the words between.
  const drawn = spouts.reduce<{ line: Flow["out"][number]; h: number; at: number; next: number }[]>((all, line) => {
    const h = Math.max(1, line.ah * scale);
    const at = (all.at(-1)?.next ?? bottom - 14) - h;
    return [...all, { line, h, at, next: at - Math.max(12, (narrow ? 40 : 34) - h) }];
  }, []);
  const spoutX = jarX + jarW;
  const spoutTo = spoutX + (narrow ? 26 : 56);
  const spoken = `${flow.word} In, ${round(flow.in_ah)} Ah: ${flow.in.map((l) => `${l.name} ${round(l.ah)} Ah`).join(", ") || "nothing"}. Out, ${round(flow.out_ah)} Ah: ${flow.out.map((l) => `${l.name} ${round(l.ah)} Ah`).join(", ")}.`;
  return (
    <div ref={ref} className="w-full [contain:inline-size]">
      <svg width={width} height={height} role="img" aria-label={spoken} className="block overflow-visible">
        <defs>
          <pattern id={`${id}h`} width="7" height="7" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
            <rect width="7" height="7" fill="var(--card)" />
            <rect width="3.4" height="7" fill="var(--wet)" />
          </pattern>
          <clipPath id={`${id}c`}>
            <rect x={jarX} y={top} width={jarW} height={tall} />
          </clipPath>
        </defs>

        {/* What comes in. */}
        <path d={`M0 ${start}H${width}`} stroke="var(--ink)" strokeWidth="1.6" />
        {flow.in.map((line, g) => {
          const x = edge + column * (g + 0.5);
          return (
            <g key={`${line.code} ${line.name}`} textAnchor="middle">
              <text x={x} y={narrow ? 26 : 28} fontWeight="740" fontSize={narrow ? 25 : 30} fill="var(--verdigris)">
                {round(line.ah)}
                <tspan fontSize="14" fontWeight="560" dx="3">
                  Ah
                </tspan>
              </text>
              <text x={x} y={start - 11} fontSize={narrow ? 12.5 : 14} fontWeight="560" fill="var(--ink)">
                {line.name}
              </text>
            </g>
          );
        })}
        {flow.in.length === 0 && (
          <text x={width / 2} y={start - 14} textAnchor="middle" fontSize="16" fontWeight="600" fill="var(--copper)">
            nothing comes in
          </text>
        )}

        {/* The jar, and where it stands. */}
        <rect x={jarX} y={top + 6} width={jarW} height={tall - 6} fill="var(--card)" />
        <g clipPath={`url(#${id}c)`}>
          <rect x={jarX} y={surface} width={jarW} height={bottom - surface} fill="var(--wet)" />
          <rect
            x={jarX}
            y={level(flow.settles_pct.high)}
            width={jarW}
            height={Math.max(0, level(flow.settles_pct.low) - level(flow.settles_pct.high))}
            fill={`url(#${id}h)`}
          />
        </g>
        {ribbons.map((r, i) => {
          const x0 = source(r);
          const x1 = into[i]!;
          const end = Math.max(top + 14, level(flow.settles_pct.high));
          const bend = (top - start) * 0.62;
          return (
            <path
              key={i}
              d={`M${x0} ${start}C${x0} ${start + bend} ${x1} ${top - bend} ${x1} ${top}V${end}`}
              fill="none"
              stroke="var(--verdigris)"
              strokeWidth={Math.max(0.8, r.wide)}
            />
          );
        })}
        <path
          d={`M${jarX - 9} ${top}H${jarX}V${bottom - 6}Q${jarX} ${bottom} ${jarX + 6} ${bottom}H${jarX + jarW - 6}Q${jarX + jarW} ${bottom} ${jarX + jarW} ${bottom - 6}V${top}H${jarX + jarW + 9}`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="3.6"
          strokeLinejoin="round"
        />
        {[0, 25, 50, 75, 100].map((pct) => (
          <path
            key={pct}
            d={`M${jarX - (pct % 50 ? 8 : 13)} ${level(pct)}H${jarX - 3}`}
            stroke="var(--ink)"
            strokeWidth="1.3"
          />
        ))}
        {(narrow ? [100] : [0, 100]).map((pct) => (
          <text key={pct} x={jarX - 17} y={level(pct) + 4} textAnchor="end" fontSize="12" fill="var(--soft)">
            {pct}
          </text>
        ))}
        <path
          d={`M${jarX + 2} ${level(flow.from_pct)}H${spoutX + 14}`}
          stroke="var(--ink)"
          strokeWidth="1.4"
          strokeDasharray="5 4"
        />
        <text
          x={spoutX + 18}
          y={level(flow.from_pct) + 4}
          fontSize={narrow ? 12 : 13}
          fontWeight="560"
          fill="var(--ink)"
        >
          {narrow ? `test ${Math.round(flow.from_pct)} %` : `fair test from ${Math.round(flow.from_pct)} %`}
        </text>
        <Standing
          x={middle}
          y={Math.min(bottom - 14, Math.max(level(flow.settles_pct.low) + (narrow ? 42 : 60), top + 60))}
          big={narrow ? 44 : 64}
          pct={flow.settles_pct.best}
          wet={surface < bottom - (narrow ? 50 : 72)}
        />

        {/* What goes out. */}
        {drain &&
          Array.from({ length: hours }, (_, i) => {
            const x0 = middle + ((i + 0.5) / hours - 0.5) * fan;
            const x1 = fanFrom + ((i + 0.5) / hours) * (fanTo - fanFrom);
            const bend = (floor - bottom) * 0.6;
            return (
              <path
                key={i}
                d={`M${x0} ${bottom + 2}C${x0} ${bottom + bend} ${x1} ${floor - bend * 0.7} ${x1} ${floor}`}
                fill="none"
                stroke="var(--copper)"
                strokeWidth={Math.max(0.45, fan / hours)}
              />
            );
          })}
        {drain && (
          <>
            <path d={`M${fanFrom} ${floor}H${fanTo}`} stroke="var(--ink)" strokeWidth="1.4" />
            <Amount x={0} y={bottom - (narrow ? 22 : 26)} line={drain} big={narrow ? 26 : 36} narrow={narrow} />
            <text x={fanFrom} y={floor + 17} fontSize="12" fill="var(--soft)">
              a line for each of {hours} hours
            </text>
          </>
        )}
        {self && (
          <>
            <path
              d={`M${jarX - (narrow ? 20 : 50)} ${bottom - 40}H${jarX - 2}`}
              stroke="var(--copper)"
              strokeWidth={Math.max(1, self.ah * scale)}
            />
            {!narrow && (
              <g textAnchor="end">
                <text x={jarX - 58} y={bottom - 42} fontSize="20" fontWeight="720" fill="var(--copper)">
                  {round(self.ah)}
                  <tspan fontSize="13" fontWeight="560" dx="3">
                    Ah
                  </tspan>
                </text>
                <text x={jarX - 58} y={bottom - 26} fontSize="13" fill="var(--ink)">
                  {self.name}
                </text>
              </g>
            )}
          </>
        )}
        {drawn.map(({ line, h, at }) => (
          <g key={line.code + line.name}>
            <path d={`M${spoutX + 2} ${at}H${spoutTo - 8}L${spoutTo} ${at + h}H${spoutX + 2}Z`} fill="var(--copper)" />
            <Amount x={spoutTo + 8} y={at + h / 2} line={line} big={narrow ? 20 : 24} narrow={narrow} beside />
          </g>
        ))}
        <g textAnchor="end" fontSize={narrow ? 12.5 : 14} fill="var(--ink)">
          <text x={width} y={top - 6}>
            <tspan fontWeight="720" fill="var(--verdigris)">
              {round(flow.in_ah)} Ah
            </tspan>{" "}
            in
          </text>
          <text x={width} y={floor + 17}>
            <tspan fontWeight="720" fill="var(--copper)">
              {round(flow.out_ah)} Ah
            </tspan>{" "}
            out
          </text>
        </g>
      </svg>
    </div>
  );
}

/** The charge itself, the largest figure there. */
function Standing({ x, y, big, pct, wet }: { x: number; y: number; big: number; pct: number; wet: boolean }) {
  return (
    <text
      x={x}
      y={y}
      textAnchor="middle"
      fontSize={big}
      fontWeight="780"
      fill={wet ? "var(--paper)" : "var(--ink)"}
      style={{ letterSpacing: "-0.02em", paintOrder: "stroke" }}
      stroke={wet ? "none" : "var(--card)"}
      strokeWidth="5"
      data-testid="settles"
    >
      {Math.round(pct)}
      <tspan fontSize={big * 0.42} fontWeight="560" dx="5">
        %
      </tspan>
    </text>
  );
}

function Amount(props: {
  x: number;
  y: number;
  line: Flow["out"][number];
  big: number;
  narrow: boolean;
  beside?: boolean;
}) {
  const { line, big, narrow } = props;
  const words = narrow ? wrapped(line.name, 17) : [line.name];
  return (
    <text x={props.x} y={props.y + (props.beside ? 3 : big)} fontSize={big} fontWeight="740" fill="var(--copper)">
      {round(line.ah)}
      <tspan fontSize="13" fontWeight="560" dx="3">
        Ah
      </tspan>
      {words.map((w, i) => (
        <tspan
          key={w}
          x={props.x}
          dy={i === 0 ? 16 : 14}
          fontSize={narrow ? 12.5 : 14}
          fontWeight="560"
          fill="var(--ink)"
        >
          {w}
        </tspan>
      ))}
    </text>
  );
}

/** Breaks words into lines of so many letters. */
function wrapped(text: string, letters: number): string[] {
  const out: string[] = [];
  for (const word of text.split(" ")) {
    const last = out.at(-1);
    if (last !== undefined && (last + word).length < letters) out[out.length - 1] = `${last} ${word}`;
    else out.push(word);
  }
  return out;
}

/** The single changes worth making, as sticks, and what to say to who drives it. */
export function Levers({ flow }: { flow: Flow }) {
  return (
    <section aria-label="What would help" className="mt-4">
      {flow.levers.length > 0 && <p className="cap mb-1.5">One change, most help first</p>}
      <ul>
        {flow.levers.map((l) => (
          <li key={l.code} className="border-t border-line py-2.5">
            <div className="flex items-end justify-between gap-3">
              <p className="min-w-0">
                <b className="block text-[17px] leading-tight font-[720]">{l.name}</b>
                <span className="text-[14px] text-soft">{keep(l.more)}</span>
              </p>
              <p className={`shrink-0 text-[36px] leading-none font-[760] tracking-tight ${tone[l.level]}`}>
                {Math.round(l.settles_pct)}
                <span className="unit">%</span>
              </p>
            </div>
            <LeverStick now={flow.settles_pct.best} then={l.settles_pct} from={flow.from_pct} />
          </li>
        ))}
      </ul>
      {flow.levers.length > 0 && (
        <p className="flex justify-between text-[13px] text-soft">
          <span>now {Math.round(flow.settles_pct.best)} %</span>
          <span>notch: fair test from {Math.round(flow.from_pct)} %</span>
        </p>
      )}
      <div className="mt-3 rounded-sm border-[1.5px] border-ink px-4 py-3">
        <p className="cap">Say to the customer</p>
        <p className="mt-1 text-[17px] leading-snug font-[560] text-pretty">“{flow.customer}”</p>
      </div>
      {flow.lasts && <p className="mt-2.5 text-[14px] text-soft">{keep(flow.lasts)}</p>}
      <p className="mt-1.5 text-[14px] text-soft">{flow.taken}</p>
    </section>
  );
}

/** What a change adds to the stick. */
function LeverStick({ now, then, from }: { now: number; then: number; from: number }) {
  const [ref, width] = useWidth<HTMLDivElement>(300);
  const x = (pct: number) => 2 + ((width - 16) * pct) / 100;
  return (
    <div ref={ref} aria-hidden className="mt-1.5 w-full [contain:inline-size]">
      <svg width={width} height="22" className="block">
        <rect x="2" y="4" width={Math.max(0, x(now) - 2)} height="13" fill="var(--wet)" />
        <rect x={x(now)} y="4" width={Math.max(0, x(then) - x(now))} height="13" fill="var(--verdigris)" />
        <path
          d={`M2 4H${width - 11}L${width - 2} 17H2Z`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="1.6"
          strokeLinejoin="round"
        />
        <path d={`M${x(then)} 0V21`} stroke="var(--ink)" strokeWidth="2.4" />
        <path d={`M${x(from)} 12l5.5 8h-11z`} fill="var(--card)" stroke="var(--ink)" strokeWidth="1.3" />
      </svg>
    </div>
  );
}
