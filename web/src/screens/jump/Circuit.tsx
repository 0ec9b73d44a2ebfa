import type { JumpPlan, Stream } from "../../lib/api";
import { showNumber } from "../../lib/units";

const INK = "var(--ink)";
const SOFT = "var(--soft)";
const CARD = "var(--card)";
const PAPER = "var(--paper)";

/** Colours of the two sides: the lead's own, so that a positive earth looks as it lies there. */
export const colourOf = (lead: string | undefined) => (lead === "black" ? INK : "var(--copper)");

/** The volts lost in some parts of the circuit together. */
export const lossOf = (plan: JumpPlan, ...parts: string[]) =>
  plan.losses.filter((l) => parts.includes(l.part)).reduce((sum, l) => sum + l.volts, 0);

/** Where height is volts: from what the source shows at rest down to the starter's terminals. */
function scaleOf(now: Stream, later: Stream | undefined, needs: number) {
  const top = Math.max(now.source_rest_volts, later?.source_volts ?? 0, later?.flat_volts ?? 0);
  const low = Math.min(now.starter_volts, needs, now.flat_volts);
  const per = Math.min(top > 18 ? 22 : 40, 116 / Math.max(0.8, top - low));
  return { y: (v: number) => 26 + (top - v) * per, top };
}

type Word = {
  x: number;
  y: number;
  children: React.ReactNode;
  size?: number;
  fill?: string;
  end?: boolean;
  mid?: boolean;
  weight?: number;
};
const Word = ({ x, y, children, size = 15, fill = INK, end, mid, weight = 560 }: Word) => (
  <text
    x={x}
    y={y}
    fontSize={size}
    fontWeight={weight}
    fill={fill}
    textAnchor={end ? "end" : mid ? "middle" : "start"}
    style={{ fontStretch: "90%" }}
  >
    {children}
  </text>
);

/** A figure with its unit small beside it. */
const Figure = (p: { x: number; y: number; n: string; unit: string; size: number; fill?: string; end?: boolean }) => (
  <text
    x={p.x}
    y={p.y}
    fontSize={p.size}
    fontWeight={770}
    fill={p.fill ?? INK}
    textAnchor={p.end ? "end" : "start"}
    style={{ letterSpacing: "-.015em", fontStretch: "92%" }}
  >
    {p.n}
    <tspan dx="3" fontSize={Math.max(12.5, p.size * 0.52)} fontWeight={540} fill={SOFT}>
      {p.unit}
    </tspan>
  </text>
);

const Battery = ({ x, y, w, h, word }: { x: number; y: number; w: number; h: number; word: string }) => (
  <g fill={CARD} stroke={INK} strokeWidth="1.8">
    <rect x={x + 14} y={y - 9} width="20" height="9" rx="2" />
    <rect x={x + w - 34} y={y - 9} width="20" height="9" rx="2" />
    <rect x={x} y={y} width={w} height={h} />
    <path d={`M${x} ${y + 11}h${w}`} />
    {[0, 1, 2, 3, 4, 5].map((i) => (
      <circle key={i} cx={x + w / 12 + (i * w) / 6} cy={y + 5.5} r="2.4" fill="none" strokeWidth="1.1" />
    ))}
    <text
      x={x + w / 2}
      y={y + h / 2 + 11}
      fontSize="16"
      fontWeight="700"
      fill={INK}
      stroke="none"
      textAnchor="middle"
      style={{ fontStretch: "90%" }}
    >
      {word}
    </text>
  </g>
);

const Clamp = ({ x, y, n, fill }: { x: number; y: number; n: number; fill: string }) => (
  <g>
    <rect x={x - 11} y={y - 17} width="22" height="34" rx="3" fill={fill} stroke={PAPER} strokeWidth="2" />
    <text x={x} y={y + 6} fontSize="17" fontWeight="790" fill={CARD} textAnchor="middle">
      {n}
    </text>
  </g>
);

/**
 * The circuit while it is cranked: height is volts, width is amps, so that one sees where
 * the volts go without reading. After minutes on the leads it is drawn dashed.
 */
export function Circuit({ plan, kind }: { plan: JumpPlan; kind: string }) {
  const now = plan.now!;
  const later = plan.later;
  const r = plan.reached!;
  const wake = plan.wake !== undefined;
  const draws = plan.wake?.amps ?? now.starter_amps;
  const { y } = scaleOf(now, later, r.needs_volts);
  const most = Math.max(now.lead_amps, now.starter_amps, now.source_battery_amps, later?.starter_amps ?? 0, 60);
  const wide = (amps: number) => Math.max(1.4, (wake ? 0.25 : Math.min(0.075, 20 / most)) * Math.abs(amps));
  const clamps = plan.connect.filter((a) => a.clamp);
  const live = colourOf(clamps.find((a) => a.side === "live")?.lead);
  const earthed = colourOf(clamps.find((a) => a.side === "earthed")?.lead);
  const vehicle = kind === "vehicle";
  const alternator = vehicle && now.alternator_amps > 0.5;
  const Y = {
    rest: y(now.source_rest_volts),
    donor: y(now.source_volts),
    flat: y(now.flat_volts),
    starter: y(now.starter_volts),
  };
  const clampVolts = lossOf(plan, "clamps");
  const leadVolts = lossOf(plan, "live_lead", "earthed_lead");
  const cableVolts = lossOf(plan, "live_cable", "earthed_cable");
  const bite = y(now.flat_volts + clampVolts); // where the lead ends and the clamps begin
  const by = 250;
  const needs = y(r.needs_volts);
  const short = now.starter_volts < r.needs_volts - 0.05;
  const names = vehicle ? "donor" : kind === "pack" ? "pack" : "boost";
  const n = (i: number) => clamps[i]?.clamp ?? i + 1;
  const at = (x: number) => Y.donor + ((x - 226) / 279) * (bite - Y.donor);
  const turn = (Math.atan2(bite - Y.donor, 279) * 180) / Math.PI;
  // Beside the fall where there is room, else under the line.
  const sag = Y.donor - Y.rest > 44 ? Y.rest + 26 : Y.donor + 34;
  const helps = now.flat_amps < -0.5;
  const spoken = [
    `From ${showNumber(now.source_rest_volts, 1)} volts at rest the source falls to ${showNumber(now.source_volts, 1)}.`,
    `Leads lose ${showNumber(leadVolts, 1)}, clamps ${showNumber(clampVolts, 1)}, the vehicle's own cables ${showNumber(cableVolts, 1)}.`,
    wake
      ? `${showNumber(now.flat_volts, 1)} volts reach it; it needs ${showNumber(r.needs_volts, 1)}.`
      : `${showNumber(now.starter_volts, 1)} volts reach the starter; it needs ${showNumber(r.needs_volts, 1)}.`,
  ].join(" ");
  return (
    <svg viewBox="0 0 908 284" className="block w-full" role="img" aria-label={spoken} data-testid="circuit">
      <g fill="var(--hush)">
        {vehicle && (
          <>
            <path d="M-10 8H128c8 0 14 3 19 10l36 58 44 9c12 3 17 10 17 22V230c0 8-4 12-12 12H-10Z" />
            <circle cx="168" cy="242" r="36" />
          </>
        )}
        <path d="M446 152c2-12 10-18 22-20l150-22 40-78c3-6 8-10 16-10H920V242H462c-10 0-16-6-16-14Z" />
        <circle cx="496" cy="240" r="42" />
      </g>
      <path d="M686 36H920V112H646Z" fill={PAPER} />
      <g fill="none" stroke={earthed} strokeLinejoin="round">
        <path d={`M760 236V${by}H470`} strokeWidth={wide(draws)} />
        <path
          d={`M474 ${by}H452C410 ${by} 390 ${by + 16} 336 ${by + 16}S260 ${by} 222 ${by}H192`}
          strokeWidth={wide(now.lead_amps)}
        />
        <path d={`M196 ${by}H143V150H102V172`} strokeWidth={wide(vehicle ? now.source_battery_amps : now.lead_amps)} />
        {alternator && <path d={`M196 150V${by}`} strokeWidth={wide(now.alternator_amps)} />}
        <path d={`M579 184v-12h34V${by}`} strokeWidth={wide(now.flat_amps)} />
      </g>
      <g fill="none" stroke={live} strokeLinejoin="round">
        <path
          d={`M54 176V${Y.rest}H112V${Y.donor}H198`}
          strokeWidth={wide(vehicle ? now.source_battery_amps : now.lead_amps)}
        />
        {alternator && <path d={`M196 ${Y.donor}V130`} strokeWidth={wide(now.alternator_amps)} />}
        <path d={`M193 ${Y.donor}H226L505 ${bite}V${Y.flat}H530`} strokeWidth={wide(now.lead_amps)} />
        <path d={`M524 ${Y.flat}H604L726 ${Y.starter}H760V200`} strokeWidth={wide(draws)} />
        <path d={`M527 182V${Y.flat}`} strokeWidth={wide(now.flat_amps)} />
      </g>
      {later && (
        <path
          d={`M118 ${y(later.source_volts)}H226L505 ${y(later.flat_volts)}H604L726 ${y(later.starter_volts)}H744`}
          fill="none"
          stroke={INK}
          strokeWidth="1.8"
          strokeDasharray="6 4"
        />
      )}
      {later && plan.minutes_first !== undefined && (
        <Word
          x={296}
          y={y(later.source_volts) + 0.25 * (y(later.flat_volts) - y(later.source_volts)) - 9}
          size={14}
          weight={640}
        >
          after {plan.minutes_first} minutes
        </Word>
      )}
      {vehicle && <Clamp x={228} y={Y.donor} n={n(1)} fill={live} />}
      {vehicle && <Clamp x={228} y={by} n={n(2)} fill={earthed} />}
      <Clamp x={505} y={(bite + Y.flat) / 2} n={n(0)} fill={live} />
      <Clamp x={470} y={by} n={clamps.at(-1)?.clamp ?? 4} fill={earthed} />
      <Battery x={30} y={182} w={96} h={48} word={names} />
      <Battery x={503} y={190} w={100} h={46} word="flat" />
      {alternator && (
        <g fill={CARD} stroke={INK} strokeWidth="1.8">
          <circle cx="196" cy="140" r="15" />
          <path d="M187 140c3-7 6-7 9 0s6 7 9 0" fill="none" strokeLinecap="round" />
        </g>
      )}
      {wake ? (
        <g fill={CARD} stroke={INK} strokeWidth="1.8">
          <rect x="716" y="196" width="150" height="48" rx="6" />
          <text x="791" y="226" fontSize="15" fontWeight="640" fill={INK} stroke="none" textAnchor="middle">
            12 V modules
          </text>
        </g>
      ) : (
        <g fill={CARD} stroke={INK} strokeWidth="1.8" strokeLinejoin="round">
          <path d="M830 190v-12h13v12M852.500 190v-12h13v12M875 190v-12h13v12" />
          <rect x="822" y="190" width="74" height="54" />
          <rect x="806" y="182" width="16" height="66" rx="3" />
          <path d="M792 222h14v14h-14z" />
          <rect x="726" y="213" width="66" height="32" rx="7" />
          <rect x="738" y="196" width="44" height="17" rx="4" />
          <text
            x="759"
            y="234"
            fontSize="14"
            fontWeight="640"
            fill={INK}
            stroke="none"
            textAnchor="middle"
            style={{ fontStretch: "84%" }}
          >
            starter
          </text>
          <text
            x="859"
            y="223"
            fontSize="14"
            fontWeight="640"
            fill={INK}
            stroke="none"
            textAnchor="middle"
            style={{ fontStretch: "88%" }}
          >
            engine
          </text>
        </g>
      )}
      {now.lead_amps > 25 && (
        <text
          x="366"
          y={at(366)}
          fontSize="14"
          fontWeight="720"
          fill={wide(now.lead_amps) > 13 ? CARD : INK}
          textAnchor="middle"
          dominantBaseline="central"
          dy={wide(now.lead_amps) > 13 ? 0 : -14}
          transform={`rotate(${turn} 366 ${at(366)})`}
        >
          {showNumber(now.lead_amps, 0)} A
        </text>
      )}
      {now.starter_amps > 25 && (
        <Word
          x={572}
          y={Y.flat + (wide(now.starter_amps) > 13 ? 5 : -11)}
          size={14}
          weight={720}
          mid
          fill={wide(now.starter_amps) > 13 ? CARD : INK}
        >
          {showNumber(now.starter_amps, 0)} A
        </Word>
      )}
      {Math.abs(now.flat_amps) >= 1 && (
        <Word x={536} y={Math.min(Y.flat + 25, 164)} size={14} weight={680}>
          {helps ? "gives" : "takes"} {showNumber(Math.abs(now.flat_amps), 0)} A
        </Word>
      )}
      {alternator && (
        <Word x={217} y={145} size={14} weight={680}>
          {showNumber(now.alternator_amps, 0)} A
        </Word>
      )}
      {vehicle && now.source_battery_amps >= 1 && (
        <Word x={44} y={128} size={14} weight={680} end>
          {showNumber(now.source_battery_amps, 0)} A
        </Word>
      )}
      <Figure x={40} y={17} n={showNumber(now.source_rest_volts, 1)} unit="V" size={20} />
      <Figure x={122} y={sag} n={showNumber(lossOf(plan, "source"), 1)} unit="V" size={27} />
      <Word x={184} y={sag} size={14} fill={SOFT}>
        {names} sags
      </Word>
      <Figure x={286} y={Math.max(150, Math.min(212, at(330) + 58))} n={showNumber(leadVolts, 1)} unit="V" size={38} />
      <Word x={286} y={Math.max(150, Math.min(212, at(330) + 58)) + 20} fill={SOFT}>
        leads, there and back
      </Word>
      <Figure
        x={488}
        y={Math.max(168, Math.min(206, Y.flat + 52))}
        n={showNumber(clampVolts, 1)}
        unit="V"
        size={27}
        end
      />
      <Word x={488} y={Math.max(168, Math.min(206, Y.flat + 52)) + 18} fill={SOFT} end>
        clamps
      </Word>
      {!wake && (
        <>
          <Figure
            x={624}
            y={Math.max(166, Math.min(212, Y.starter + 40))}
            n={showNumber(cableVolts, 1)}
            unit="V"
            size={27}
          />
          <Word x={624} y={Math.max(166, Math.min(212, Y.starter + 40)) + 18} fill={SOFT}>
            its cables
          </Word>
        </>
      )}
      <path d={`M748 ${needs}H890`} stroke={INK} strokeWidth="1.8" />
      <path d={`M886 ${needs}l9-7v14Z`} fill={PAPER} stroke={INK} strokeWidth="1.6" strokeLinejoin="round" />
      <Word x={894} y={needs + (short ? -9 : 20)} size={15.5} weight={680} end>
        needs {showNumber(r.needs_volts, 1)} V
      </Word>
      {short && (
        <path d={`M778 ${needs + 3}V${Y.starter}M773 ${Y.starter}h10`} stroke="var(--copper)" strokeWidth="1.8" />
      )}
      <Figure
        x={790}
        y={short ? Math.max(Y.starter + 4, needs + 34) : Math.min(Y.starter - 6, needs - 10)}
        n={showNumber(wake ? now.flat_volts : now.starter_volts, 1)}
        unit="V"
        size={36}
        fill={short ? "var(--copper)" : "var(--verdigris)"}
      />
      <Word x={896} y={16} size={13} fill={SOFT} end>
        height: volts · width: amps
      </Word>
    </svg>
  );
}
