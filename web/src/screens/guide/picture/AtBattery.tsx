import { Arrow, Upright } from "./Arrow";
import { BatteryFigure, handAt, postAt, Way, type Role, type Stand } from "./Battery";
import { ASIDE, CARD, HUSH, INK, LINE, LIVE, SOFT, STOP, edge, word } from "./ink";
import { Brush, Can, Cloth, Cup, Fizz, Hand, Meter, Scraper, Spanner } from "./Tools";

/** What is done at the battery: the tool where it goes, and the way it moves. */
export function Doing({ s, act, on, volts }: { s: Stand; act: string; on: string; volts: string }) {
  const role: Role = on === "live" || on === "cover" ? "live" : "earthed";
  const { x, dir } = postAt(s, role);
  const y = handAt(s);
  const ear = s.terminals === "top" ? x + dir * 33 : x;
  switch (act) {
    case "off":
    case "on":
      if (on === "hold_down")
        return (
          <g>
            <Upright x={200} low={150} high={96} up={act === "off"} />
            <text x="214" y="112" {...word} fill={INK}>
              {act === "off" ? "up" : "down, snug"}
            </text>
          </g>
        );
      if (on === "sensor")
        return (
          <g>
            <Upright x={x} low={y - 56} high={y - 88} up={act === "off"} />
            <text x={x + 16} y={y - 70} {...word} fill={INK}>
              {act === "off" ? "plug off" : "plug on"}
            </text>
          </g>
        );
      if (on === "link") return null;
      return (
        <g>
          <Way s={s} role={role} back={act === "on"} />
          <Spanner
            x={ear}
            y={s.terminals === "top" ? y : y - (s.terminals === "stud" ? 12 : 0)}
            turn={dir < 0 ? 142 : 38}
          />
          {s.terminals !== "side" && (
            <text x={dir < 0 ? 8 : 392} y="292" textAnchor={dir < 0 ? "start" : "end"} {...word} fill={SOFT}>
              {act === "off" ? "slacken" : "tighten"}
            </text>
          )}
        </g>
      );
    case "turn":
      return (
        <g>
          {(["earthed", "live"] as const).map((r) => {
            const p = postAt(s, r);
            return (
              <g key={r}>
                <Arrow
                  d={`M${p.x - 34} ${y - 18}A40 22 0 0 1 ${p.x + 34} ${y - 18}`}
                  at={[p.x + 34, y - 18]}
                  turn={62}
                />
                <path
                  d={`M${p.x - 34} ${y - 18}l-3-13m3 13l12-7`}
                  stroke={INK}
                  strokeWidth="3.400"
                  strokeLinecap="round"
                  fill="none"
                />
              </g>
            );
          })}
          <g transform="translate(200 66) scale(.95)">
            <Hand x={0} y={0} />
          </g>
          <text x="8" y="24" {...word} fontWeight={760} fill={INK}>
            none may move
          </text>
        </g>
      );
    case "measure":
      return (
        <g>
          <Meter x={200} y={52} to={[x, y - 22, 206, 166]} show={volts} />
          <text x="252" y="60" {...word} fill={INK}>
            post to lid
          </text>
        </g>
      );
    case "wipe":
      return (
        <g>
          <Cloth x={196} y={158} />
          <Arrow d="M148 132L176 118 204 132 232 118 262 130" at={[262, 130]} turn={24} />
        </g>
      );
    case "scrape":
      return (
        <g>
          <Scraper x={x + dir * 26} y={y + 4} turn={dir * 34} />
          <g fill={ASIDE}>
            <circle cx={x + dir * 44} cy="206" r="5" />
            <circle cx={x + dir * 58} cy="232" r="4" />
            <circle cx={x + dir * 40} cy="252" r="6" />
            <circle cx={x + dir * 62} cy="270" r="4" />
          </g>
          <text x={dir < 0 ? 8 : 392} y="297" textAnchor={dir < 0 ? "start" : "end"} {...word} fill={INK}>
            into the tray
          </text>
          <text x="200" y="58" textAnchor="middle" {...word} fill={INK}>
            wet, never dry
          </text>
        </g>
      );
    case "soda":
      return (
        <g>
          <Cup x={52} y={108} />
          <Arrow d="M86 82C120 60 160 70 184 128" at={[184, 128]} turn={74} />
          <Cloth x={206} y={158} />
          <Fizz x={206} y={132} />
          <text x="262" y="98" {...word} fill={INK}>
            until no fizz
          </text>
        </g>
      );
    case "rinse":
      return (
        <g>
          <path d="M44 40h30l8 22v60H36V62Z" fill={CARD} {...edge} />
          <path d="M36 84h46v38H36Z" fill={HUSH} {...edge} strokeWidth="1.400" />
          <text x="59" y="109" textAnchor="middle" fontSize="15" fontWeight="640" fill={INK}>
            water
          </text>
          <Arrow d="M92 84C130 64 164 84 182 126" at={[182, 126]} turn={68} />
          <Cloth x={206} y={158} />
          <text x="250" y="104" {...word} fill={INK}>
            then dry
          </text>
        </g>
      );
    case "brush":
      return (
        <g>
          {(["earthed", "live"] as const).map((r) => {
            const p = postAt(s, r);
            return (
              <g key={r}>
                <Brush x={p.x + p.dir * 18} y={y - 2} turn={p.dir * 40} />
                <path
                  d={`M${p.x} ${y - 46}v-14M${p.x - p.dir * 22} ${y - 40}l${-p.dir * 8}-10M${p.x - p.dir * 30} ${y - 22}l${-p.dir * 12}-4`}
                  stroke={LIVE}
                  strokeWidth="3"
                  strokeLinecap="round"
                />
              </g>
            );
          })}
          <text x="200" y="60" textAnchor="middle" {...word} fill={INK}>
            bright all round
          </text>
        </g>
      );
    case "spray":
      return (
        <g>
          <Can x={286} y={72} />
          <text x="200" y="56" textAnchor="middle" {...word} fill={INK}>
            over the tight joint
          </text>
        </g>
      );
    case "grease":
      return (
        <g>
          {(["earthed", "live"] as const).map((r) => {
            const p = postAt(s, r);
            return (
              <path
                key={r}
                d={`M${p.x - 26} ${y + 4}C${p.x - 34} ${y - 24} ${p.x - 8} ${y - 34} ${p.x + 4} ${y - 22}C${p.x + 28} ${y - 30} ${p.x + 34} ${y - 4} ${p.x + 24} ${y + 6}Z`}
                fill={LINE}
                fillOpacity="0.85"
                {...edge}
              />
            );
          })}
          <text x="200" y="56" textAnchor="middle" {...word} fill={INK}>
            a skim over the tight joint
          </text>
        </g>
      );
  }
  return null;
}

/** The battery going out of its place or into it, level. */
export function Moving({ s, lower, tray, handle }: { s: Stand; lower: boolean; tray: string; handle: boolean }) {
  return (
    <g>
      <path d="M60 262V292H340V262" fill="none" {...edge} strokeWidth="3" />
      <text x="200" y="284" textAnchor="middle" {...word} fill={SOFT}>
        {tray}
      </text>
      <g transform="translate(34 4) scale(.83)">
        <BatteryFigure s={s} />
        {handle && <path d="M160 146C160 96 240 96 240 146" fill="none" stroke={INK} strokeWidth="6" />}
      </g>
      <Upright x={376} low={214} high={120} up={!lower} />
      <g transform="translate(200 24)">
        <rect x="-46" y="-11" width="92" height="22" rx="11" fill={CARD} stroke={ASIDE} strokeWidth="2" />
        <ellipse rx="12" ry="6" fill={ASIDE} />
        <path d="M-18-11V11M18-11V11" stroke={ASIDE} strokeWidth="2" />
      </g>
      <text x="256" y="30" {...word} fill={ASIDE}>
        level
      </text>
    </g>
  );
}

/** The link between two in a row, seen from one of them: it goes to the other. */
function LinkTo({ s, role }: { s: Stand; role: Role }) {
  const { x, dir } = postAt(s, role);
  const d = `M${x} 132C${x + dir * 20} 92 ${x + dir * 80} 90 ${dir < 0 ? -200 : 600} 104`;
  return (
    <g fill="none" strokeLinecap="round">
      <path d={d} stroke={INK} strokeWidth="15" />
      <path d={d} stroke={LINE} strokeWidth="10.500" />
      <text x={dir < 0 ? 8 : 392} y="84" textAnchor={dir < 0 ? "start" : "end"} {...word} fill={SOFT}>
        link
      </text>
    </g>
  );
}

/** Two batteries of one vehicle: what is done to one is done to both, or to the one at that end of the row. */
export function Two({
  s,
  series,
  act,
  on,
  linked,
}: {
  s: Stand;
  series: boolean;
  act: string;
  on: string;
  linked: boolean;
}) {
  if (series && on === "link") {
    const bare: Stand = { ...s, on: [], aside: [], tube: false, keepAlive: false, sensor: false };
    const from = { x: -8 + postAt(s, "live").x * 0.52, y: 118 + 138 * 0.52 };
    const to = { x: 200 + postAt(s, "earthed").x * 0.52, y: from.y };
    const d = `M${from.x} ${from.y}C${from.x + 20} ${from.y - 70} ${to.x - 20} ${to.y - 70} ${to.x} ${to.y}`;
    return (
      <g>
        {[-8, 200].map((x) => (
          <g key={x} transform={`translate(${x} 118) scale(.52)`}>
            <BatteryFigure s={bare} labels={false} />
          </g>
        ))}
        <g fill="none" strokeLinecap="round">
          <path d={d} stroke={INK} strokeWidth="13" />
          <path d={d} stroke={LIVE} strokeWidth="8.500" />
        </g>
        <Upright x={196} low={116} high={62} up={act === "off"} />
        <text x="212" y="72" {...word} fill={INK}>
          link
        </text>
      </g>
    );
  }
  const ends = series && (on === "earthed" || on === "live");
  const other: Role = on === "earthed" ? "live" : "earthed";
  const shown: Stand = ends
    ? { ...s, on: s.on.filter((r) => r === on), aside: s.aside.filter((r) => r === on), cap: s.cap && on === "live" }
    : s;
  return (
    <g>
      {!series && (
        <g transform="translate(30 -22)" fill="none" stroke={SOFT} strokeWidth="2" strokeDasharray="6 5">
          <path d="M84 184H316L298 142H102ZM84 184V198H316V184M308 198V288" />
        </g>
      )}
      <BatteryFigure s={shown}>
        {ends && linked && <LinkTo s={s} role={other} />}
        <Doing s={shown} act={act} on={on} volts="0.6" />
      </BatteryFigure>
      <text x="392" y="270" textAnchor="end" fontSize="22" fontWeight="760" fill={INK}>
        {series ? (ends ? "1 of 2" : "both") : "× 2"}
      </text>
    </g>
  );
}

/** A line struck through what must not be. */
export const Struck = ({ d }: { d: string }) => (
  <path d={d} stroke={STOP} strokeWidth="5" strokeLinecap="round" fill="none" />
);
