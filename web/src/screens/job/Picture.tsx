import type { ReactNode } from "react";
import type { Side } from "../../lib/api";
import { Posts } from "../../parts/Posts";

type Props = { station: string; way: string | undefined; plus: Side; minus: Side };

/** How it is measured here: where probes and clamps go, on the live and the earthed side, in order. */
export function Picture({ station, way, plus, minus }: Props) {
  const live = plus.role === "live" ? plus : minus;
  const earthed = plus.role === "live" ? minus : plus;
  const sides = { live, earthed };
  switch (station) {
    case "rest_voltage":
      return <Posts plus={plus} minus={minus} tool="probe" small />;
    case "clean":
      return way === "lid_leakage" ? <Lid {...sides} /> : null;
    case "eye":
      return <Eyes />;
    case "charge":
      return <Charger {...sides} />;
    case "strength":
      return way === "starter" ? <Starter {...sides} /> : <Tester {...sides} small={way === "conductance"} />;
    case "crank":
      return way === "jump_result" ? null : <Starter {...sides} drops />;
    case "charging":
      return <Running {...sides} />;
    case "drain":
      return way === "fuse" ? <Fuses /> : <Ammeter {...sides} />;
  }
  return null;
}

type Sides = { live: Side; earthed: Side };

const colour = (side: Side) => (side.lead === "red" ? "var(--copper)" : "var(--ink)");

/** A battery from the front, its live post at the left. */
function Battery({ live, earthed, x = 112, w = 134 }: Sides & { x?: number; w?: number }) {
  return (
    <>
      <g fill="var(--card)" stroke="var(--ink)" strokeWidth="1.8">
        <path d={`M${x} 42h${w}v46H${x}z`} />
        <rect x={x + 14} y="33" width="20" height="9" rx="2" />
        <rect x={x + w - 34} y="33" width="20" height="9" rx="2" />
      </g>
      {[
        { side: live, at: x + 24 },
        { side: earthed, at: x + w - 24 },
      ].map(({ side, at }) => (
        <text key={side.post} x={at} y="66" textAnchor="middle" fontSize="21" fontWeight="740" fill={colour(side)}>
          {side.post}
        </text>
      ))}
    </>
  );
}

function Drawing({ name, children, height = 96 }: { name: string; children: ReactNode; height?: number }) {
  return (
    <svg
      viewBox={`0 0 358 ${height}`}
      className="block w-full overflow-visible"
      role="img"
      aria-label={name}
      fontSize="14.5"
    >
      {children}
    </svg>
  );
}

/** A number in a ring, in the order things are done. */
function N({ x, y, n }: { x: number; y: number; n: string | number }) {
  return (
    <g>
      <circle cx={x} cy={y} r="9.5" fill="var(--paper)" stroke="var(--copper)" strokeWidth="1.8" />
      <text x={x} y={y + 4.5} textAnchor="middle" fontSize="13" fontWeight="740" fill="var(--copper)">
        {n}
      </text>
    </g>
  );
}

const Said = (p: {
  x: number;
  y: number;
  anchor?: "start" | "end" | "middle";
  strong?: boolean;
  fill?: string;
  children: ReactNode;
}) => (
  <text
    x={p.x}
    y={p.y}
    textAnchor={p.anchor ?? "start"}
    fontWeight={p.strong ? 680 : 500}
    fill={p.fill ?? "var(--soft)"}
  >
    {p.children}
  </text>
);

/** One probe on a post, the other moved over the lid. */
function Lid({ live, earthed }: Sides) {
  return (
    <Drawing
      name={`One probe on the ${earthed.role} post, the other moved over the lid and the cap seams; note the highest.`}
    >
      <Battery live={live} earthed={earthed} />
      <g fill="none" strokeWidth="3" strokeLinecap="round">
        <path d="M222 33C230 10 262 8 276 18" stroke={colour(earthed)} />
        <path d="M178 40C170 14 120 6 92 18" stroke={colour(live)} />
        <path d="M152 28h54m-8-5 8 5-8 5M160 23l-8 5 8 5" stroke="var(--copper)" strokeWidth="1.8" />
      </g>
      <Said x={280} y={22} strong fill={colour(earthed)}>
        on the post
      </Said>
      <Said x={88} y={22} anchor="end" strong fill={colour(live)}>
        over lid
      </Said>
      <Said x={88} y={40} anchor="end">
        and seams
      </Said>
    </Drawing>
  );
}

/** The three faces of an eye. */
function Eyes() {
  const eyes: [string, string, string][] = [
    ["green", "#3f8a5c", "about 65 % and more"],
    ["dark", "#17272e", "less: charge first"],
    ["clear", "#e9e2b8", "acid too low: stop"],
  ];
  return (
    <Drawing
      name="Green: about 65 % or more. Dark: less, charge first. Clear or yellow: acid below the eye, stop."
      height={84}
    >
      {eyes.map(([word, fill, means], i) => (
        <g key={word} transform={`translate(${60 + i * 119} 0)`}>
          <circle cx="0" cy="26" r="21" fill="var(--card)" stroke="var(--ink)" strokeWidth="1.8" />
          <circle cx="0" cy="26" r="11" fill={fill} stroke="var(--ink)" />
          <Said x={0} y={63} anchor="middle" strong fill="var(--ink)">
            {word}
          </Said>
          <text x="0" y="79" textAnchor="middle" fontSize="12.5" fill="var(--soft)" style={{ fontStretch: "84%" }}>
            {means}
          </text>
        </g>
      ))}
    </Drawing>
  );
}

/** A charger's clamps in order: off at the wall, positive, negative, power on. */
function Charger({ live, earthed }: Sides) {
  const plus = live.post === "+" ? live : earthed;
  const minus = live.post === "+" ? earthed : live;
  const plusLeft = live.post === "+";
  return (
    <Drawing name="One: off at the wall. Two: positive to positive. Three: negative to negative. Four: power on. Off in the reverse order.">
      <Battery live={live} earthed={earthed} />
      <g fill="none" strokeWidth="3.2">
        <path d={plusLeft ? "M136 33C130 12 92 10 70 26" : "M222 33C228 12 266 10 288 26"} stroke={colour(plus)} />
        <path d={plusLeft ? "M222 33C228 12 266 10 288 26" : "M136 33C130 12 92 10 70 26"} stroke={colour(minus)} />
      </g>
      <N x={plusLeft ? 98 : 260} y={13} n={2} />
      <N x={plusLeft ? 260 : 98} y={13} n={3} />
      <N x={16} y={72} n={1} />
      <Said x={30} y={77} strong fill="var(--ink)">
        off first
      </Said>
      <N x={272} y={72} n={4} />
      <Said x={286} y={77} strong fill="var(--ink)">
        power on
      </Said>
    </Drawing>
  );
}

/** A tester's clamps on the posts themselves. */
function Tester({ live, earthed, small }: Sides & { small: boolean }) {
  return (
    <Drawing
      name={`${live.lead} clamp on the live post, ${earthed.lead} clamp on the earthed post, on the posts themselves.`}
    >
      <Battery live={live} earthed={earthed} />
      <g fill="none" strokeWidth={small ? 3 : 6}>
        <path d="M136 33C130 8 96 8 82 20" stroke={colour(live)} />
        <path d="M222 33C228 8 262 8 276 20" stroke={colour(earthed)} />
      </g>
      <g fill="var(--ink)">
        <path d="M129 24h14l-3 12h-8z" />
        <path d="M215 24h14l-3 12h-8z" />
      </g>
      <Said x={78} y={20} anchor="end" strong fill={colour(live)}>
        {live.lead}
      </Said>
      <Said x={78} y={38} anchor="end">
        live side
      </Said>
      <Said x={280} y={20} strong fill={colour(earthed)}>
        {earthed.lead}
      </Said>
      <Said x={280} y={38}>
        earthed side
      </Said>
      <Said x={179} y={82} anchor="middle">
        on the posts
      </Said>
    </Drawing>
  );
}

/** The way of the starter's current: battery, live path, starter, engine, body, earthed path. */
function Starter({ live, earthed, drops }: Sides & { drops?: boolean }) {
  return (
    <Drawing
      name={
        drops
          ? "a: volts at the posts. b: live path, from the live post to the starter's terminal. c: earthed path, from the engine block to the earthed post. d: amps in the cable."
          : "The starter is the load: volts at the posts while it cranks."
      }
      height={112}
    >
      <g fill="none" stroke="var(--ink)" strokeWidth="1.8">
        <path d="M14 48h104v42H14z" fill="var(--card)" />
        <rect x="26" y="39" width="18" height="9" rx="2" fill="var(--card)" />
        <rect x="88" y="39" width="18" height="9" rx="2" fill="var(--card)" />
        <path d="M97 39C104 14 176 34 222 26" stroke={colour(live)} strokeWidth="5" />
        <path d="M35 39C20 14 4 40 6 100H186" stroke={colour(earthed)} strokeWidth="5" />
        <path d="M222 14h64v24h-64z" fill="var(--card)" />
        <path d="M214 40h84v38h-84z" fill="var(--card)" />
        <path d="M186 60h172v48H186z" strokeDasharray="4 4" />
        <circle cx="318" cy="60" r="14" />
        <path d="M186 100c14-4 14-18 28-20" strokeWidth="4" stroke="var(--soft)" />
      </g>
      <Said x={35} y={72} anchor="middle" strong fill={colour(earthed)}>
        {earthed.post}
      </Said>
      <Said x={97} y={72} anchor="middle" strong fill={colour(live)}>
        {live.post}
      </Said>
      <Said x={256} y={64} anchor="middle" strong fill="var(--ink)">
        starter
      </Said>
      <Said x={276} y={100} anchor="middle">
        engine
      </Said>
      <N x={66} y={33} n="a" />
      {drops && (
        <>
          <N x={160} y={22} n="b" />
          <N x={60} y={100} n="c" />
          <path d="M126 16v26" stroke="var(--ink)" strokeWidth="1.6" />
          <N x={126} y={10} n="d" />
        </>
      )}
    </Drawing>
  );
}

/** The meter at the posts while the engine runs. */
function Running({ live, earthed }: Sides) {
  return (
    <Drawing
      name={`Meter across the posts, ${live.lead} on the live side, ${earthed.lead} on the earthed side, engine running.`}
    >
      <Battery live={live} earthed={earthed} x={62} />
      <g fill="none" strokeWidth="3">
        <path d="M86 33C80 10 40 12 26 26" stroke={colour(live)} />
        <path d="M172 33C170 14 120 6 118 20" stroke={colour(earthed)} />
        <g stroke="var(--ink)" strokeWidth="1.8">
          <circle cx="282" cy="56" r="28" fill="var(--card)" />
          <circle cx="282" cy="56" r="9" />
          <path d="M254 56C236 56 226 40 196 40" />
          <path d="M310 44l30-22M306 74l34 12" stroke="var(--soft)" strokeWidth="3" />
        </g>
      </g>
      <Said x={282} y={16} anchor="middle" strong fill="var(--ink)">
        running
      </Said>
      <Said x={8} y={46}>
        V
      </Said>
    </Drawing>
  );
}

/** An ammeter in the earthed cable. */
function Ammeter({ live, earthed }: Sides) {
  return (
    <Drawing name="Ammeter in series in the earthed cable, between post and cable: highest range first, then step down.">
      <Battery live={live} earthed={earthed} x={20} />
      <g fill="none" strokeWidth="4">
        <path d="M130 33C132 14 166 12 186 24" stroke={colour(earthed)} />
        <path d="M246 36C280 40 300 48 316 76" stroke={colour(earthed)} />
        <rect x="186" y="10" width="60" height="44" rx="4" fill="var(--card)" stroke="var(--ink)" strokeWidth="1.8" />
        <path d="M296 78h40M302 84h28M310 90h12" stroke="var(--ink)" strokeWidth="1.8" />
      </g>
      <text x="216" y="39" textAnchor="middle" fontSize="19" fontWeight="740" fill="var(--ink)">
        mA
      </text>
      <N x={196} y={70} n={1} />
      <Said x={210} y={75}>
        10 A range
      </Said>
      <N x={196} y={88} n={2} />
      <Said x={210} y={93}>
        step down
      </Said>
      <Said x={330} y={60} anchor="middle" strong fill="var(--ink)">
        body
      </Said>
    </Drawing>
  );
}

/** One fuse out at a time. */
function Fuses() {
  return (
    <Drawing name="One fuse out at a time; note what still flows." height={70}>
      <rect x="60" y="12" width="238" height="46" rx="4" fill="var(--card)" stroke="var(--ink)" strokeWidth="1.8" />
      {[0, 1, 2, 3, 4, 5].map((i) => (
        <path
          key={i}
          d={`M${84 + i * 38} ${i === 2 ? 0 : 22}v26M${76 + i * 38} ${i === 2 ? 4 : 26}h16v16h-16z`}
          fill={i === 2 ? "var(--copper)" : "none"}
          stroke={i === 2 ? "var(--copper)" : "var(--ink)"}
          strokeWidth="1.8"
        />
      ))}
    </Drawing>
  );
}
