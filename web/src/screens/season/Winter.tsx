import { useId } from "react";
import type { SeasonDay, SeasonPlan, SeasonWay } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { riseIn, toScale, unitOf, showNumber } from "../../lib/units";
import { useWidth } from "../../lib/width";
import { colourOf, indexOf, line, monthOf, onDate, reach, standing } from "./scale";

type Done = { date: string; text: string };

type Props = {
  plan: SeasonPlan;
  way: SeasonWay;
  today: string;
  /** Least degrees the house keeps between a night and the freezing point. */
  margin: number;
  /** What was seen so far. */
  looks: Done[];
  /** Not begun: all of it lies ahead. */
  planned?: boolean;
};

/** A battery's season: the nights as hills from below, its own freeze line as a roof; colder is higher. */
export function Winter({ plan, way, today, margin, looks, planned }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const scale = usePerson().temperature;
  const uid = useId().replaceAll(":", "");
  const narrow = width < 620;
  const left = narrow ? 32 : 42;
  const right = width - (narrow ? 40 : 56);
  const tall = narrow ? 262 : 318;
  const marks = narrow ? 0 : 64;
  const days = way.days;
  const n = days.length - 1;
  const connected = plan.ways.find((w) => w.way === "connected");
  const ghost = way.way === "connected" ? undefined : connected;
  const before = plan.before && looks.length > 0 && way.way === plan.kept ? plan.before : undefined;
  const { cold, warm } = reach(days, ghost ? [standing(ghost)] : []);
  const x = (i: number) => left + (Math.max(0, i) / Math.max(1, n)) * (right - left);
  const y = (c: number) => ((c - cold) / (warm - cold)) * tall;
  const now = planned ? 0 : Math.max(0, indexOf(days, today));
  const kept = standing(way);
  const along = (all: SeasonDay[], of: (d: SeasonDay) => number, from = 0) =>
    all.map((d, i): [number, number] => [x(from + i), y(of(d))]);
  const hill = line([[x(0), tall], ...along(days, (d) => d.low_c), [x(n), tall]]);
  const ahead = days.slice(now);
  const hard = line([...along(ahead, (d) => d.low_c, now), ...along(ahead, (d) => d.low_c - margin, now).reverse()]);
  const band = line([...along(kept, (d) => d.freezes_high_c), ...along(kept, (d) => d.freezes_low_c).reverse()]);
  const best = line(along(kept, (d) => d.freezes_c));
  const colour = colourOf[way.sign];
  const stopAt = indexOf(days, way.freezes_from);
  const nearest = now + lowest(days.slice(now));
  const spareTop = y(days[nearest]!.freezes_low_c);
  const spareBottom = y(days[nearest]!.low_c);
  const spare = days[nearest]!.low_c - days[nearest]!.freezes_low_c;
  const roomy = spareBottom - spareTop > (narrow ? 70 : 92);
  const ends = kept.at(-1)!;
  const ticks = ticksOf(cold, warm);
  const firsts = days.map((d, i) => ({ d, i })).filter(({ d, i }) => i === 0 || d.date.endsWith("-01"));
  return (
    <div ref={ref} className="w-full [contain:inline-size]">
      <svg
        width={width}
        height={tall + 26 + marks}
        role="img"
        aria-label={spoken(way, days[nearest]!, spare)}
        className="block overflow-visible"
        fontFamily="inherit"
      >
        <defs>
          <Hatch id={`${uid}h`} colour="var(--wet)" wide={2.2} />
          <Hatch id={`${uid}v`} colour={colour} wide={2} />
        </defs>
        <rect x={left} y={0} width={right - left} height={tall} fill="var(--card)" />
        {firsts.slice(1).map(({ i }) => (
          <path key={i} d={`M${x(i)} 0V${tall}`} stroke="var(--line)" />
        ))}
        {kept.map((d, i) => {
          const from = y(d.freezes_low_c);
          const to = y(i >= now ? d.low_c - margin : d.low_c);
          return to > from ? (
            <path
              key={d.date}
              d={`M${x(i).toFixed(1)} ${from.toFixed(1)}V${to.toFixed(1)}`}
              stroke={colour}
              strokeWidth="1.3"
              opacity="0.24"
            />
          ) : null;
        })}
        {before && (
          <path
            d={line(along(before, (d) => d.freezes_c))}
            fill="none"
            stroke="var(--soft)"
            strokeWidth="2"
            strokeDasharray="2 5"
            strokeLinecap="round"
          />
        )}
        <path d={`${hard}Z`} fill={`url(#${uid}h)`} />
        <path d={`${hill}Z`} fill="var(--wet)" />
        <path d={line(along(days, (d) => d.low_c))} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
        <path d={`${band}Z`} fill={`url(#${uid}v)`} />
        <path d={best} fill="none" stroke={colour} strokeWidth={narrow ? 3.4 : 4.4} strokeLinejoin="round" />
        {ghost && <Ghost way={ghost} along={along} x={x} y={y} narrow={narrow} drain={plan.drain.drain_ma.best} />}
        {ghost && plan.folk.freezes_on && !narrow && <FolkRule plan={plan} days={days} x={x} y={y} cold={cold} />}
        {stopAt >= 0 && (
          <Stop x={x(stopAt)} y={y(days[stopAt]!.freezes_low_c)} tall={tall} way={way} right={right} narrow={narrow} />
        )}
        {stopAt < 0 && (
          <g>
            <path
              d={`M${x(nearest)} ${spareBottom - 2}V${spareTop + 2}m-7 0h14M${x(nearest) - 7} ${spareBottom - 1}h14`}
              stroke={colour}
              strokeWidth="2.6"
              fill="none"
            />
            {roomy && (
              <Spare
                at={x(nearest)}
                middle={(spareTop + spareBottom) / 2}
                figure={riseIn(Math.floor(spare), scale)}
                unit={unitOf("°C", scale)}
                colour={colour}
                left={x(nearest) > (left + right) * 0.58}
                narrow={narrow}
              />
            )}
          </g>
        )}
        {!planned && now > 0 && now < n && (
          <g>
            <path d={`M${x(now)} 0V${tall}`} stroke="var(--ink)" strokeWidth="1.4" strokeDasharray="2 3" />
            <path d={`M${x(now) - 7} 0h14l-7 10z`} fill="var(--ink)" />
            {!narrow && (
              <Halo x={x(now) + 11} y={12}>
                today
              </Halo>
            )}
          </g>
        )}
        {ticks.map((t) => (
          <g key={t}>
            <path d={`M${left - (t % 20 ? 4 : 7)} ${y(t)}H${left}`} stroke="var(--soft)" />
            {t % 20 === 0 && (
              <text x={left - 9} y={y(t) + 4.5} textAnchor="end" fontSize="12.5" fontWeight="600" fill="var(--soft)">
                {figure(toScale(t, scale))}
              </text>
            )}
          </g>
        ))}
        <text x={2} y={11} fontSize="12" fontWeight="600" fill="var(--soft)">
          {unitOf("°C", scale)}
        </text>
        {!narrow && (
          <g fill="var(--soft)" stroke="none">
            <text
              transform={`translate(10,${tall * 0.45}) rotate(-90)`}
              fontSize="12"
              fontWeight="600"
              textAnchor="middle"
            >
              colder
            </text>
            <path d={`M6 ${tall * 0.45 - 28}v-18m-4 6l4 -6l4 6`} fill="none" stroke="var(--soft)" strokeWidth="1.5" />
          </g>
        )}
        {plan.scale.map((m) => (
          <g key={m.soc_pct}>
            <path d={`M${right} ${y(m.freezes_c)}h6`} stroke="var(--soft)" />
            {Math.abs(y(m.freezes_c) - y(ends.freezes_c)) > 15 && (
              <text x={right + 9} y={y(m.freezes_c) + 4.5} fontSize="12.5" fontWeight="600" fill="var(--soft)">
                {m.soc_pct}
                {m.soc_pct === 100 && !narrow ? " %" : ""}
              </text>
            )}
          </g>
        ))}
        <text x={right + 6} y={11} fontSize="12" fontWeight="600" fill="var(--soft)" style={{ fontStretch: "76%" }}>
          {narrow ? "%" : "CHARGE"}
        </text>
        {stopAt < 0 && (
          <g fill={colour}>
            <path d={`M${right + 1} ${y(ends.freezes_c)}l8 -5v10z`} />
            <text x={right + 11} y={y(ends.freezes_c) + 6} fontSize={narrow ? 16 : 19} fontWeight="780">
              {ends.soc_pct.toFixed(0)}
            </text>
          </g>
        )}
        <path d={`M${left} 0V${tall}H${right}V0`} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
        {firsts.map(({ d, i }, k) => {
          const to = firsts[k + 1]?.i ?? n;
          const room = x(to) - x(i);
          return (
            <g key={d.date}>
              {i > 0 && <path d={`M${x(i)} ${tall}v8`} stroke="var(--ink)" strokeWidth="1.2" />}
              {room > 30 && (
                <text
                  x={(x(i) + x(to)) / 2}
                  y={tall + 16}
                  textAnchor="middle"
                  fontSize="12.5"
                  fontWeight="600"
                  fill="var(--soft)"
                >
                  {monthOf(d.date).slice(0, room > 74 ? 9 : 3)}
                </text>
              )}
            </g>
          );
        })}
        {!narrow && <Words now={now} n={n} x={x} tall={tall} planned={planned} />}
        {!narrow && (
          <Marks way={way} looks={looks} days={days} x={x} tall={tall} today={today} right={right} planned={planned} />
        )}
      </svg>
    </div>
  );
}

const figure = (v: number) => v.toFixed(0).replace("-", "−");

function ticksOf(cold: number, warm: number) {
  const out: number[] = [];
  for (let t = Math.ceil(cold / 10) * 10; t < warm - 2; t += 10) out.push(t);
  return out;
}

function lowest(days: SeasonDay[]) {
  let at = 0;
  days.forEach((d, i) => {
    if (d.low_c - d.freezes_low_c < days[at]!.low_c - days[at]!.freezes_low_c) at = i;
  });
  return at;
}

function spoken(way: SeasonWay, nearest: SeasonDay, spare: number) {
  const end = `${way.soc_pct_end.best.toFixed(0)} % charged at the end, ${way.soc_pct_end.low.toFixed(0)} at the least.`;
  return `${way.name}. ${way.says} ${Math.floor(spare)} °C to spare on ${onDate(nearest.date)}, the worst night ahead. ${end}`;
}

function Hatch({ id, colour, wide }: { id: string; colour: string; wide: number }) {
  return (
    <pattern id={id} width="5.5" height="5.5" patternTransform="rotate(45)" patternUnits="userSpaceOnUse">
      <rect width="5.5" height="5.5" fill="var(--card)" />
      <rect width={wide} height="5.5" fill={colour} />
    </pattern>
  );
}

/** Words over a picture, with the paper round them. */
function Halo(props: {
  x: number;
  y: number;
  children: string;
  colour?: string;
  size?: number;
  weight?: number;
  end?: boolean;
  angle?: number;
}) {
  return (
    <text
      x={props.x}
      y={props.y}
      transform={props.angle === undefined ? undefined : `rotate(${props.angle} ${props.x} ${props.y})`}
      fontSize={props.size ?? 13}
      fontWeight={props.weight ?? 650}
      fill={props.colour ?? "var(--ink)"}
      textAnchor={props.end ? "end" : "start"}
      style={{
        fontStretch: "88%",
        paintOrder: "stroke",
        stroke: "var(--card)",
        strokeWidth: 5,
        strokeLinejoin: "round",
      }}
    >
      {props.children}
    </text>
  );
}

/** What is to spare in the worst night, the largest figure of the place. */
function Spare(p: {
  at: number;
  middle: number;
  figure: number;
  unit: string;
  colour: string;
  left: boolean;
  narrow: boolean;
}) {
  const size = p.narrow ? 36 : 52;
  const text = p.figure.toFixed(0);
  const wide = text.length * size * 0.6 + 46;
  const from = p.left ? p.at - wide - 12 : p.at + 10;
  return (
    <g>
      <rect x={from} y={p.middle - size * 0.95} width={wide} height={size * 1.42} fill="var(--card)" rx="3" />
      <text x={from + 6} y={p.middle + 4} fontSize={size} fontWeight="780" fill={p.colour} letterSpacing="-1.5">
        {text}
        <tspan fontSize={size * 0.45} fontWeight="600" letterSpacing="0" dx="4">
          {p.unit}
        </tspan>
      </text>
      <text
        x={from + 7}
        y={p.middle + 21}
        fontSize="12.5"
        fontWeight="600"
        fill="var(--ink)"
        style={{ fontStretch: "86%" }}
      >
        {p.narrow ? "to spare" : "to spare, worst night"}
      </text>
    </g>
  );
}

type Place = { x: (i: number) => number; y: (c: number) => number };
type Along = (all: SeasonDay[], of: (d: SeasonDay) => number, from?: number) => [number, number][];

/** What would become of it left as it is. */
function Ghost({
  way,
  along,
  x,
  y,
  narrow,
  drain,
}: Place & { way: SeasonWay; along: Along; narrow: boolean; drain: number }) {
  const path = line(along(standing(way), (d) => d.freezes_c));
  const stop = indexOf(way.days, way.freezes_from);
  const mid = Math.floor(standing(way).length * 0.5);
  const [a, b] = [way.days[mid]!, way.days[Math.min(way.days.length - 1, mid + 12)]!];
  const angle = (Math.atan2(y(b.freezes_c) - y(a.freezes_c), x(mid + 12) - x(mid)) * 180) / Math.PI;
  return (
    <g>
      <path d={path} fill="none" stroke="var(--card)" strokeWidth="6" />
      <path d={path} fill="none" stroke="var(--copper)" strokeWidth="2.8" strokeDasharray="9 4" />
      {!narrow && way.sign !== "holds" && (
        <Halo x={x(mid)} y={y(a.freezes_c) + 18} colour="var(--copper)" angle={angle}>
          {`left connected, ${showNumber(drain, drain < 10 ? 1 : 0)} mA`}
        </Halo>
      )}
      {stop >= 0 && (
        <rect
          x={x(stop) - 13}
          y={y(way.days[stop]!.freezes_low_c) - 6}
          width="26"
          height="12"
          fill="var(--oxide)"
          stroke="var(--card)"
          strokeWidth="2"
        />
      )}
    </g>
  );
}

/** “Over 12 volts it is safe”, as it is believed, and where it is wrong. */
function FolkRule({ plan, days, x, y, cold }: Place & { plan: SeasonPlan; days: SeasonDay[]; cold: number }) {
  const { folk } = plan;
  const ice = indexOf(days, folk.freezes_on);
  const turns = indexOf(days, folk.turns_on);
  if (ice < 0 || (turns >= 0 && turns <= ice)) return null;
  const top = y(Math.max(cold + 2, -60));
  const end = turns < 0 ? days.length - 1 : turns;
  return (
    <g>
      <path
        d={`M${x(0)} ${top}H${x(end)}`}
        fill="none"
        stroke="var(--soft)"
        strokeWidth="2"
        strokeDasharray="1.5 4.5"
        strokeLinecap="round"
      />
      <Halo x={x(0) + 8} y={top - 6} colour="var(--soft)">
        folk rule: “12 volts is safe”
      </Halo>
      <path d={`M${x(ice) - 8} ${top - 8}l16 16m0 -16l-16 16`} stroke="var(--oxide)" strokeWidth="3.4" fill="none" />
      <Halo x={x(ice) + 14} y={top + 5} colour="var(--oxide)">
        {`wrong: ${Math.round(folk.out_c ?? 0)} °C out that night`}
      </Halo>
    </g>
  );
}

/** Where it freezes. */
function Stop(p: { x: number; y: number; tall: number; way: SeasonWay; right: number; narrow: boolean }) {
  const flip = p.x > p.right * 0.5;
  const top = Math.max(20, p.y - 130);
  return (
    <g>
      <path d={`M${p.x} ${p.y}V${top}`} stroke="var(--oxide)" strokeWidth="2.6" />
      <rect
        x={p.x - 19}
        y={p.y - 9}
        width="38"
        height="17"
        fill="var(--oxide)"
        stroke="var(--card)"
        strokeWidth="2.5"
      />
      <Halo
        x={p.x + (flip ? -10 : 10)}
        y={top + 16}
        size={p.narrow ? 19 : 24}
        weight={780}
        colour="var(--oxide)"
        end={flip}
      >
        {onDate(p.way.freezes_from!)}
      </Halo>
      <Halo x={p.x + (flip ? -10 : 10)} y={top + 34} colour="var(--oxide)" end={flip}>
        stop: it may freeze from here
      </Halo>
    </g>
  );
}

/** What the hills are. */
function Words(p: { now: number; n: number; x: (i: number) => number; tall: number; planned?: boolean | undefined }) {
  const white = { fontSize: 12.5, fontWeight: 650, fill: "var(--paper)" };
  const past = p.x(p.now) - p.x(0);
  const ahead = p.x(p.n) - p.x(p.now);
  return (
    <g style={{ fontStretch: "88%" }}>
      {!p.planned && past > 120 && (
        <text x={p.x(0) + past / 2} y={p.tall - 9} textAnchor="middle" {...white}>
          nights so far
        </text>
      )}
      {ahead > 150 && (
        <text x={p.x(p.now) + ahead * 0.36} y={p.tall - 9} textAnchor="middle" {...white}>
          coldest usual nights
        </text>
      )}
      {ahead > 360 && (
        <text x={p.x(p.now) + ahead * 0.78} y={p.tall - 9} textAnchor="middle" {...white}>
          hatched: the house’s margin
        </text>
      )}
    </g>
  );
}

type Mark = { at: number; date: string; text: string; done: boolean };

/** Done and to come, under the months: what fits, the first and what is next before the rest. */
function Marks(p: {
  way: SeasonWay;
  looks: Done[];
  days: SeasonDay[];
  x: (i: number) => number;
  tall: number;
  today: string;
  right: number;
  planned?: boolean | undefined;
}) {
  const all: Mark[] = [
    ...p.looks.map((l) => ({ at: indexOf(p.days, l.date), date: l.date, text: l.text, done: true })),
    ...p.way.needs
      .filter((m) => p.planned || m.code !== "put_away")
      .map((m) => ({ at: indexOf(p.days, m.date), date: m.date, text: m.do, done: false })),
  ].filter((m) => m.at >= 0);
  all.sort((a, b) => a.at - b.at);
  const shown: (Mark & { left: number; wide: number })[] = [];
  for (const m of all) {
    const wide = Math.min(210, Math.max(78, m.text.length * 6.1 + 12));
    const left = Math.min(p.x(m.at), p.right + 50 - wide);
    const last = shown.at(-1);
    if (!last || left >= last.left + last.wide + 6) shown.push({ ...m, left, wide });
  }
  return (
    <g>
      {shown.map((m) => {
        const colour = m.done ? "var(--verdigris)" : "var(--copper)";
        const y = p.tall + 44;
        return (
          <g key={`${m.date} ${m.text}`}>
            <path
              d={`M${p.x(m.at)} ${p.tall - 4}V${p.tall + 26}L${m.left} ${p.tall + 34}V${p.tall + 80}`}
              stroke={colour}
              strokeWidth="2.4"
              fill="none"
            />
            {m.done ? (
              <circle cx={m.left + 14} cy={y} r="5.5" fill={colour} />
            ) : (
              <path
                d={`M${m.left + 14} ${y - 6.5}l6.5 6.5-6.5 6.5-6.5-6.5z`}
                fill="none"
                stroke={colour}
                strokeWidth="2.2"
              />
            )}
            <text x={m.left + 26} y={y + 5} fontSize="14.5" fontWeight="750" fill="var(--ink)">
              {onDate(m.date)}
            </text>
            <text x={m.left + 8} y={y + 24} fontSize="13" fontWeight="600" fill={colour} style={{ fontStretch: "84%" }}>
              {m.text.length > 34 ? `${m.text.slice(0, 33)}…` : m.text}
            </text>
          </g>
        );
      })}
    </g>
  );
}
