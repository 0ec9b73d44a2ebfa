import { useId } from "react";
import { useNavigate } from "react-router";
import type { LifeBody } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";
import { useWidth } from "../../lib/width";

type Life = LifeBody["life"];
type Event = Life["events"][number];

const YEAR = 365.25 * 86_400_000;

/**
 * A battery's life as one line: what each test said of its strength, brought to one
 * scale, the line through them with its band, and what was done to it below.
 */
export function LifeLine({ life, twin, now }: { life: Life; twin: Life | undefined; now: string }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const narrow = useNarrow();
  const go = useNavigate();
  const id = useId();
  if (life.line.length < 2) return null;
  const height = narrow ? 280 : 340;
  const left = narrow ? 34 : 44;
  const right = width - 8;
  const top = 26;
  const lane = height - 64; // what was done stands under it
  const start = Math.min(Date.parse(life.line[0]!.at), ...life.events.map((e) => Date.parse(e.at)));
  const end = Date.parse(life.line.at(-1)!.at);
  const x = (iso: string) => left + ((Date.parse(iso) - start) / (end - start)) * (right - left);
  const y = (pct: number) => top + ((115 - Math.min(115, Math.max(0, pct))) / 115) * (lane - top);
  const path = (l: Life, of: (p: Life["line"][number]) => number) =>
    l.line
      .filter((p) => Date.parse(p.at) >= start && Date.parse(p.at) <= end)
      .map((p, i) => `${i ? "L" : "M"}${x(p.at).toFixed(1)} ${y(of(p)).toFixed(1)}`)
      .join("");
  const area = `${path(life, (p) => p.high)}${[...life.line]
    .reverse()
    .map((p) => `L${x(p.at).toFixed(1)} ${y(p.low).toFixed(1)}`)
    .join("")}Z`;
  const nowX = life.ended ? x(life.ended) : x(now);
  const years: number[] = [];
  for (let year = new Date(start).getUTCFullYear() + 1; Date.UTC(year, 0, 1) < end; year++) years.push(year);
  const every = Math.ceil(years.length / ((right - left) / 52));
  const fails = life.fails?.week && Date.parse(life.fails.week) < end ? life.fails.week : undefined;
  const jobs = life.events.filter((e) => e.code === "job");
  const others = life.events.filter((e) => e.code !== "job");
  const spoken = `Strength in percent of its label over ${Math.max(1, Math.round((end - start) / YEAR))} years. ${life.tests
    .map((t) => `${t.at.slice(0, 7)}: ${Math.round(t.pct.best)} %`)
    .join(", ")}. ${life.says}`;
  return (
    <div ref={ref} className="w-full [contain:inline-size]">
      <svg width={width} height={height} role="img" aria-label={spoken} className="block overflow-visible">
        <defs>
          <pattern id={`${id}h`} width="7" height="7" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
            <rect width="2.2" height="7" fill="var(--wet)" opacity="0.4" />
          </pattern>
        </defs>
        {[25, 50, 75, 100].map((pct) => (
          <g key={pct}>
            <path d={`M${left} ${y(pct)}H${right}`} stroke="var(--line)" />
            <text x={left - 6} y={y(pct) + 4} textAnchor="end" fontSize="12" fill="var(--soft)">
              {pct}
            </text>
          </g>
        ))}
        <text x={left - 6} y={y(115) - 8} textAnchor="start" fontSize="12" fill="var(--soft)" dx={narrow ? -26 : -36}>
          % of its label
        </text>
        {years.map((year, i) => (
          <g key={year}>
            <path d={`M${x(`${year}-01-01`)} ${lane}v7`} stroke="var(--ink)" />
            {i % every === 0 && (
              <text x={x(`${year}-01-01`)} y={height - 4} textAnchor="middle" fontSize="12" fill="var(--soft)">
                {year}
              </text>
            )}
          </g>
        ))}
        <path d={area} fill={`url(#${id}h)`} />
        {twin && twin.line.length > 1 && (
          <path d={path(twin, (p) => p.best)} fill="none" stroke="var(--slate)" strokeWidth="2" strokeDasharray="6 5" />
        )}
        <path d={path(life, (p) => p.best)} fill="none" stroke="var(--ink)" strokeWidth="2.6" strokeLinejoin="round" />
        <path d={`M${left} ${lane}H${right}`} stroke="var(--ink)" strokeWidth="1.6" />
        <path d={`M${nowX} ${top - 6}V${lane}`} stroke="var(--ink)" strokeWidth="1.4" strokeDasharray="2 4" />
        <text x={nowX} y={top - 10} textAnchor="middle" fontSize="12.5" fontWeight="640" fill="var(--ink)">
          {life.ended ? "ended" : "today"}
        </text>
        {fails && (
          <g>
            <path d={`M${x(fails)} ${top + 12}V${lane}`} stroke="var(--copper)" strokeWidth="2" />
            <path
              d={`M${x(fails)} ${top + 4}l7 7-7 7-7-7z`}
              fill="var(--paper)"
              stroke="var(--copper)"
              strokeWidth="2"
            />
            <text
              x={x(fails) + 11}
              y={top + 16}
              fontSize="13"
              fontWeight="680"
              fill="var(--copper)"
              textAnchor={right - x(fails) < 70 ? "end" : "start"}
              dx={right - x(fails) < 70 ? -22 : 0}
            >
              fails
            </text>
          </g>
        )}
        {life.tests.map((t) => (
          <g key={t.at} className="cursor-pointer" onClick={() => void go(`/jobs/${t.job}`)}>
            <path d={`M${x(t.at)} ${y(t.pct.low)}V${y(t.pct.high)}`} stroke="var(--copper)" strokeWidth="1.6" />
            <circle
              cx={x(t.at)}
              cy={y(t.pct.best)}
              r="6.5"
              fill="var(--copper)"
              stroke="var(--paper)"
              strokeWidth="2"
            />
            {(life.tests.length < 7 || t === life.tests.at(-1)) && (
              <text
                x={x(t.at)}
                y={y(t.pct.high) - 6}
                textAnchor="middle"
                fontSize="14"
                fontWeight="720"
                fill="var(--copper)"
                stroke="var(--paper)"
                strokeWidth="4"
                style={{ paintOrder: "stroke" }}
              >
                {Math.round(t.pct.best)}
              </text>
            )}
          </g>
        ))}
        {jobs.map((e) => (
          <path key={e.at + e.job} d={`M${x(e.at)} ${lane + 3}v16`} stroke="var(--ink)" strokeWidth="3.4" />
        ))}
        {others.map((e, i) => (
          <Mark key={e.at + e.code + i} event={e} x={x(e.at)} y={lane + 32} />
        ))}
      </svg>
      <Key events={others} twin={twin !== undefined} />
    </div>
  );
}

function Mark({ event: e, x, y }: { event: Event; x: number; y: number }) {
  switch (e.code) {
    case "charge":
      return <path d={`M${x} ${y - 6}a6 6 0 0 1 0 12z`} fill="var(--slate)" stroke="var(--slate)" strokeWidth="1.4" />;
    case "stood":
      return <path d={`M${x - 10} ${y}h20`} stroke="var(--soft)" strokeWidth="4" />;
    case "ended":
      return <rect x={x - 7} y={y - 4} width="14" height="8" fill="var(--oxide)" />;
    case "fitted":
      return <circle cx={x} cy={y} r="5.5" fill="var(--verdigris)" />;
  }
  return <circle cx={x} cy={y} r="4.5" fill="var(--paper)" stroke="var(--ink)" strokeWidth="2" />;
}

/** What the marks under the line stand for, of those that are there. */
function Key({ events, twin }: { events: Event[]; twin: boolean }) {
  const words = { made: "made", fitted: "fitted", charge: "charged", stood: "stood a week and more", ended: "ended" };
  const there = (Object.keys(words) as (keyof typeof words)[]).filter((c) => events.some((e) => e.code === c));
  return (
    <p className="mt-1.5 flex flex-wrap gap-x-5 gap-y-1 text-[13px] text-soft">
      <span className="flex items-center gap-1.5">
        <svg width="16" height="16" aria-hidden>
          <circle cx="8" cy="8" r="6" fill="var(--copper)" />
        </svg>
        tested
      </span>
      <span className="flex items-center gap-1.5">
        <svg width="10" height="16" aria-hidden>
          <path d="M5 1v14" stroke="var(--ink)" strokeWidth="3.4" />
        </svg>
        a job
      </span>
      {there.map((code) => (
        <span key={code} className="flex items-center gap-1.5">
          <svg width="22" height="16" aria-hidden>
            <Mark event={{ code, at: "", text: "" }} x={11} y={8} />
          </svg>
          {words[code]}
        </span>
      ))}
      {twin && (
        <span className="flex items-center gap-1.5">
          <svg width="26" height="16" aria-hidden>
            <path d="M0 8h26" stroke="var(--slate)" strokeWidth="2" strokeDasharray="6 5" />
          </svg>
          its twin
        </span>
      )}
    </p>
  );
}
