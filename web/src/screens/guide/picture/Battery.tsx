import type { ReactNode } from "react";
import { Arrow } from "./Arrow";
import { ASIDE, CARD, HUSH, INK, IRON, LINE, LIVE, edge, word } from "./ink";

export type Side = "left" | "right";
export type Role = "live" | "earthed";

/** How one battery stands in a picture: what is on it, and where its live post is. */
export type Stand = {
  terminals: "top" | "side" | "stud";
  live: Side;
  sign: { live: string; earthed: string };
  /** Cables that are on their posts, and those that lie aside. */
  on: Role[];
  aside: Role[];
  hood: boolean;
  cap: boolean;
  holdDown: boolean;
  strap: boolean;
  tube: boolean;
  sensor: boolean;
  caps: "none" | "on" | "off";
  crust: boolean;
  keepAlive: boolean;
};

const colour = (role: Role) => (role === "live" ? LIVE : IRON);

/** Where a post stands, and to which side its cable goes. */
export const postAt = (s: Stand, role: Role) => {
  const side: Side = role === "live" ? s.live : s.live === "left" ? "right" : "left";
  return { x: side === "left" ? 148 : 252, dir: side === "left" ? -1 : 1 };
};
/** How high what is done at a post is done. */
export const handAt = (s: Stand) => (s.terminals === "side" ? 218 : 138);

const asideAt = (dir: number) => ({ x: dir < 0 ? 58 : 342, y: 64 });

function Cable({ d, role }: { d: string; role: Role }) {
  return (
    <g fill="none" strokeLinecap="round">
      <path d={d} stroke={INK} strokeWidth="17" />
      <path d={d} stroke={colour(role)} strokeWidth="12.500" />
    </g>
  );
}

/** The end of a cable: a clamp, an eye with its bolt, or a lug with its nut. */
export function End({ terminals, role, dir }: { terminals: Stand["terminals"]; role: Role; dir: number }) {
  if (terminals === "side")
    return (
      <g>
        <circle r="19" fill={colour(role)} {...edge} />
        <path d="M-12 0-6-10.400H6L12 0 6 10.400H-6Z" fill={CARD} {...edge} />
      </g>
    );
  if (terminals === "stud")
    return (
      <g>
        <path d={`M${-17} -5h34v11h-34Z`} fill={colour(role)} {...edge} />
        <path d="M-11-17h22v12h-22Z" fill={CARD} {...edge} />
        <path d="M-4-17V-5M4-17V-5" stroke={INK} strokeWidth="1.400" />
      </g>
    );
  return (
    <g>
      <path d={`M${dir * 14}-8H${dir * 44}V8H${dir * 14}Z`} fill={CARD} {...edge} />
      <path d={`M${dir * 27}-13H${dir * 39}V13H${dir * 27}Z`} fill={HUSH} {...edge} />
      <path d="M-22-8V8A22 9 0 0 0 22 8V-8" fill={colour(role)} {...edge} />
      <ellipse cy="-8" rx="22" ry="9" fill={colour(role)} {...edge} />
    </g>
  );
}

/** A cable with its end on the post. */
function Fixed({ s, role }: { s: Stand; role: Role }) {
  const { x, dir } = postAt(s, role);
  const out = dir < 0 ? -200 : 600;
  if (s.terminals === "side")
    return (
      <g>
        <Cable d={`M${x} 218C${x + dir * 60} 224 ${x + dir * 90} 250 ${out} 240`} role={role} />
        <g transform={`translate(${x} 218)`}>
          <End terminals="side" role={role} dir={dir} />
        </g>
      </g>
    );
  return (
    <g>
      <Cable
        d={`M${x - dir * 6} 130C${x + dir * 16} 84 ${x + dir * 70} 78 ${x + dir * 150} 92S${x + dir * 240} 120 ${out} 120`}
        role={role}
      />
      <g transform={`translate(${x} 138)`}>
        <End terminals={s.terminals} role={role} dir={dir} />
      </g>
    </g>
  );
}

/** A cable that lies aside, tied; a live one that is still fed, in its hood. */
function Aside({ s, role }: { s: Stand; role: Role }) {
  const { dir } = postAt(s, role);
  const at = asideAt(dir);
  const out = dir < 0 ? -200 : 600;
  const hooded = role === "live" && s.hood;
  return (
    <g>
      <Cable
        d={`M${out} ${at.y + 20}L${at.x + dir * 90} ${at.y + 20}C${at.x + dir * 50} ${at.y + 20} ${at.x + dir * 26} ${at.y + 4} ${at.x + dir * 12} ${at.y}`}
        role={role}
      />
      {hooded ? (
        <g transform={`translate(${at.x} ${at.y})`}>
          <path d="M-26 22V-4A26 26 0 0 1 26-4V22Z" fill={LIVE} {...edge} />
          <path d="M-13 4H13M0-9V17" stroke={CARD} strokeWidth="4" />
        </g>
      ) : (
        <g transform={`translate(${at.x} ${at.y}) scale(.78)`}>
          <End terminals={s.terminals} role={role} dir={-dir} />
        </g>
      )}
      <path d={`M${at.x + dir * 36} ${at.y - 8}v34`} stroke={ASIDE} strokeWidth="7" strokeLinecap="round" />
      <text
        x={dir < 0 ? 8 : 392}
        y={at.y - 30}
        textAnchor={dir < 0 ? "start" : "end"}
        {...word}
        fill={hooded ? LIVE : ASIDE}
      >
        {hooded ? "hood on: live" : "tied aside"}
      </text>
    </g>
  );
}

function Post({ s, role }: { s: Stand; role: Role }) {
  const { x } = postAt(s, role);
  if (s.terminals === "side")
    return (
      <g>
        <circle cx={x} cy="218" r="17" fill={HUSH} {...edge} />
        <circle cx={x} cy="218" r="6" fill={INK} />
      </g>
    );
  if (s.terminals === "stud")
    return (
      <g>
        <path d={`M${x - 15} 142h30v20h-30Z`} fill={HUSH} {...edge} />
        <path d={`M${x - 5} 120h10v22h-10Z`} fill={CARD} {...edge} />
      </g>
    );
  return (
    <g>
      <path
        d={`M${x - 14} 160L${x - 10} 118H${x + 10}L${x + 14} 160A14 5 0 0 1 ${x - 14} 160Z`}
        fill={HUSH}
        {...edge}
      />
      <ellipse cx={x} cy="118" rx="10" ry="4" fill={CARD} {...edge} />
    </g>
  );
}

const Crust = ({ s, role }: { s: Stand; role: Role }) => {
  const { x } = postAt(s, role);
  const y = s.terminals === "side" ? 218 : 146;
  return (
    <g fill={ASIDE} fillOpacity="0.45" stroke={ASIDE} strokeWidth="1.600">
      <circle cx={x - 20} cy={y + 6} r="8" />
      <circle cx={x - 8} cy={y + 13} r="9" />
      <circle cx={x + 9} cy={y + 12} r="8" />
      <circle cx={x + 21} cy={y + 5} r="7" />
      <circle cx={x + 16} cy={y - 9} r="5" />
      <circle cx={x - 15} cy={y - 8} r="6" />
    </g>
  );
};

/** A battery from the front and a little above, its long side with the posts nearest. */
export function BatteryFigure({ s, children, labels = true }: { s: Stand; children?: ReactNode; labels?: boolean }) {
  const roles: Role[] = ["earthed", "live"];
  return (
    <g>
      {s.tube && (
        <g fill="none" strokeLinecap="round">
          <path d="M288 152C320 140 330 152 330 196V296" stroke={INK} strokeWidth="9" />
          <path d="M288 152C320 140 330 152 330 196V296" stroke={CARD} strokeWidth="5" />
        </g>
      )}
      <path d="M84 184H316L298 142H102Z" fill={CARD} {...edge} />
      <path d="M84 184H316V198H84Z" fill={HUSH} {...edge} />
      <path d="M92 198H308V288H92Z" fill={CARD} {...edge} />
      {s.caps !== "none" && (
        <g {...edge} strokeWidth="1.800">
          {[0, 1, 2, 3, 4, 5].map((i) => (
            <ellipse key={i} cx={162 + i * 15.2} cy="172" rx="6" ry="3.600" fill={s.caps === "on" ? HUSH : INK} />
          ))}
        </g>
      )}
      {labels &&
        roles.map((role) => {
          const { x } = postAt(s, role);
          const low = s.terminals === "side";
          return (
            <g key={role} textAnchor="middle" fill={colour(role)}>
              <text x={x} y={low ? 268 : 252} fontSize={low ? 34 : 44} fontWeight="760">
                {s.sign[role]}
              </text>
              <text x={x} y={low ? 284 : 276} fontSize="16" fontWeight="660">
                {role}
              </text>
            </g>
          );
        })}
      {s.holdDown && (
        <g fill={HUSH} {...edge}>
          <path d="M74 164H326V176H74Z" fillOpacity="0.92" />
          <path d="M78 150V290M322 150V290" fill="none" strokeWidth="4" />
          <path d="M72 156h12v8H72ZM316 156h12v8h-12Z" fill={CARD} />
        </g>
      )}
      {s.strap && <path d="M188 142L182 184V288H214V184L210 142Z" fill={LINE} fillOpacity="0.8" {...edge} />}
      {roles.map((role) => (
        <Post key={role} s={s} role={role} />
      ))}
      {s.crust && roles.map((role) => <Crust key={role} s={s} role={role} />)}
      {s.aside.map((role) => (
        <Aside key={role} s={s} role={role} />
      ))}
      {s.on.map((role) => (
        <Fixed key={role} s={s} role={role} />
      ))}
      {s.sensor && s.on.includes("earthed") && (
        <g transform={`translate(${postAt(s, "earthed").x} ${handAt(s) - 26})`}>
          <rect x="-18" y="-14" width="36" height="20" rx="3" fill={CARD} {...edge} />
          <path d="M-8-14v-9h16v9" fill={HUSH} {...edge} />
        </g>
      )}
      {s.cap && s.on.includes("live") && (
        <g transform={`translate(${postAt(s, "live").x} ${handAt(s)})`}>
          <path d="M-30 20V-12A30 30 0 0 1 30-12V20Z" fill={LIVE} {...edge} />
          <path d={s.sign.live === "+" ? "M-13-4H13M0-17V9" : "M-13-4H13"} stroke={CARD} strokeWidth="5" />
        </g>
      )}
      {s.keepAlive && (
        <g>
          <rect x="150" y="6" width="100" height="26" rx="13" fill={CARD} stroke={ASIDE} strokeWidth="2" />
          <circle cx="166" cy="19" r="5" fill={ASIDE} />
          <text x="178" y="24.500" fontSize="14.500" fontWeight="640" fill={ASIDE}>
            keep-alive
          </text>
        </g>
      )}
      {children}
    </g>
  );
}

/** The curved way a cable's end goes between its post and where it lies aside. */
export function Way({ s, role, back }: { s: Stand; role: Role; back: boolean }) {
  const { x, dir } = postAt(s, role);
  const at = asideAt(dir);
  const y = handAt(s) - (s.terminals === "side" ? 26 : 34);
  const from: [number, number] = [x - dir * 6, y];
  const to: [number, number] = [at.x - dir * 34, at.y - 6];
  const [a, b] = back ? [to, from] : [from, to];
  const mid = `${x + dir * (back ? 2 : -14)} ${at.y - 16}`;
  return (
    <g>
      <Arrow d={`M${a[0]} ${a[1]}Q${mid} ${b[0]} ${b[1]}`} at={b} turn={back ? 90 : dir < 0 ? 172 : 8} />
      <text
        x={x - dir * 16}
        y={s.terminals === "side" ? 118 : y - 24}
        textAnchor={dir < 0 ? "start" : "end"}
        {...word}
        fill={INK}
      >
        {s.terminals === "side" ? (back ? "bolt in" : "bolt out") : back ? "down on" : "lift off"}
      </text>
      {!back && (
        <g transform={`translate(${at.x} ${at.y}) scale(.78)`} opacity="0.5" strokeDasharray="5 5">
          <ellipse rx="26" ry="15" fill="none" stroke={ASIDE} strokeWidth="3" />
        </g>
      )}
      {!back && (
        <text x={dir < 0 ? 8 : 392} y={at.y - 30} textAnchor={dir < 0 ? "start" : "end"} {...word} fill={ASIDE}>
          tie aside
        </text>
      )}
    </g>
  );
}
