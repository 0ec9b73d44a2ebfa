import type { JumpPlan } from "../../lib/api";
import { colourOf } from "./Circuit";

const INK = "var(--ink)";
const SOFT = "var(--soft)";
const CARD = "var(--card)";
const PAPER = "var(--paper)";

const Peg = ({ x, y, turn, fill }: { x: number; y: number; turn: number; fill: string }) => (
  <path
    transform={`translate(${x} ${y}) rotate(${turn})`}
    d="M-4.500-26h9l3 16-4 12h-7l-4-12Z"
    fill={fill}
    stroke={CARD}
    strokeWidth="1.500"
  />
);

const Tag = ({ x, y, n, colour, on }: { x: number; y: number; n: number; colour: string; on: boolean }) => (
  <g>
    <rect
      x={x - 14}
      y={y - 15}
      width="28"
      height="30"
      rx="3"
      fill={on ? colour : CARD}
      stroke={colour}
      strokeWidth="2"
    />
    <text x={x} y={y + 8} fontSize="22" fontWeight="790" fill={on ? CARD : colour} textAnchor="middle">
      {n}
    </text>
  </g>
);

/** A battery seen from above, with the marks of its posts: the live one on the left here. */
const Top = (p: { x: number; y: number; w: number; h: number; word: string; left: string; right: string }) => (
  <g>
    <rect x={p.x} y={p.y} width={p.w} height={p.h} rx="3" fill={CARD} stroke={INK} strokeWidth="1.8" />
    <g fill={CARD} stroke={INK} strokeWidth="1.8">
      <circle cx={p.x + 20} cy={p.y + 21} r="9" />
      <circle cx={p.x + p.w - 20} cy={p.y + 21} r="9" />
    </g>
    <g fontSize="15" fontWeight="700" fill={INK} textAnchor="middle">
      <text x={p.x + 20} y={p.y + 45}>
        {p.left}
      </text>
      <text x={p.x + p.w - 20} y={p.y + 45}>
        {p.right}
      </text>
      <text x={p.x + p.w / 2} y={p.y + p.h - 7} fontSize="14.500">
        {p.word}
      </text>
    </g>
  </g>
);

/** Where the clamps go on this vehicle, numbered as they go on, with its live and its earthed side. */
export function Bay({
  plan,
  kind,
  boot,
  electric,
  done,
}: {
  plan: JumpPlan;
  kind: string;
  boot: boolean;
  electric: boolean;
  done: number;
}) {
  const clamps = plan.connect.filter((a) => a.clamp);
  const first = clamps[0];
  const last = clamps.at(-1);
  if (!first || !last) return null;
  const live = colourOf(first.lead);
  const earthed = colourOf(last.lead);
  const vehicle = kind === "vehicle";
  const post = first.place === "jump_post";
  const metal = last.place === "metal";
  const far = boot && !post; // the leads go to the boot
  // Where the live and the last clamp bite.
  const liveAt = post ? { x: 158, y: 60 } : { x: 170, y: 39 };
  const lastAt = metal ? { x: 294, y: 176 } : { x: 236, y: 39 };
  const other = vehicle ? plan.connect.find((a) => a.place === "donor_other") : undefined;
  const where = far ? "in the boot" : post ? "jump post in front" : "under the bonnet";
  return (
    <svg
      viewBox="0 -4 332 268"
      className="mx-auto block w-full max-w-[400px] wide:max-w-[290px]"
      role="img"
      aria-label={`The clamps, ${where}: ${clamps.map((a) => `${a.clamp}, ${a.do}`).join("; ")}`}
    >
      <rect x="126" y="2" width="204" height="216" rx="16" fill={PAPER} stroke="var(--line)" strokeWidth="1.600" />
      <text x="322" y="16" fontSize="12.500" fill={SOFT} textAnchor="end">
        {where}
      </text>
      {vehicle ? (
        <path d="M0 156H104a12 12 0 0 1 12 12V262H0" fill={PAPER} stroke="var(--line)" strokeWidth="1.600" />
      ) : null}
      {electric || far ? (
        <g fill={CARD} stroke={INK} strokeWidth="1.800">
          <path d="M198 118H316V206H198Z" />
          <text x="257" y="150" fontSize="13" fill={SOFT} stroke="none" textAnchor="middle">
            {electric ? "body" : "boot floor"}
          </text>
        </g>
      ) : (
        <g fill={CARD} stroke={INK}>
          <path d="M198 118H316V206H198Z" strokeWidth="1.800" />
          <rect x="212" y="128" width="62" height="26" rx="4" fill="none" strokeWidth="1.200" />
          <path d="M153 142a17 17 0 0 1 34 0l-5 48a12 12 0 0 1-24 0Z" fill="none" strokeWidth="2.600" />
          <circle cx="170" cy="142" r="12" strokeWidth="1.400" />
          <circle cx="170" cy="190" r="8" strokeWidth="1.400" />
          <text x="170" y="146.500" fontSize="12" fontWeight="620" fill={INK} stroke="none" textAnchor="middle">
            belt
          </text>
        </g>
      )}
      {post ? (
        <g>
          <circle cx="158" cy="60" r="12" fill={CARD} stroke={INK} strokeWidth="1.800" />
          <text x="158" y="65.500" fontSize="16" fontWeight="740" fill={INK} textAnchor="middle">
            {first.post}
          </text>
          <text x="178" y="58" fontSize="14" fontWeight="680" fill={INK}>
            jump post
          </text>
          <text x="178" y="75" fontSize="12.500" fill={SOFT}>
            {boot ? "the battery is in the boot" : "wired to the battery"}
          </text>
        </g>
      ) : (
        <Top x={150} y={18} w={106} h={62} word="flat" left={first.post ?? ""} right={last.post ?? ""} />
      )}
      {vehicle ? (
        <Top x={6} y={182} w={100} h={66} word="donor" left={first.post ?? ""} right={other?.post ?? ""} />
      ) : (
        <g>
          <rect x="10" y="176" width="92" height="72" rx="8" fill={CARD} stroke={INK} strokeWidth="1.800" />
          <text x="56" y="218" fontSize="15" fontWeight="680" fill={INK} textAnchor="middle">
            {kind === "pack" ? "pack" : "charger"}
          </text>
        </g>
      )}
      <g>
        <circle cx="294" cy="176" r="11" fill="var(--hush)" stroke={INK} strokeWidth="1.800" />
        <circle cx="294" cy="176" r="4" fill={CARD} stroke={INK} strokeWidth="1.400" />
        <text x="277" y="194" fontSize="14" fontWeight="680" fill={INK} textAnchor="end">
          bare metal
        </text>
      </g>
      <g fill="none" strokeWidth="6">
        <path d={`M26 178C22 110 40 6 112 14c24 3 40 8 ${liveAt.x - 118} ${liveAt.y - 21}`} stroke={live} />
        <path
          d={
            metal
              ? "M86 182C86 160 130 168 128 214C126 250 210 244 252 238C282 234 292 214 294 200"
              : "M86 182C86 150 122 150 126 116C130 96 262 112 282 84C292 68 262 48 240 42"
          }
          stroke={earthed}
        />
      </g>
      {vehicle && <Peg x={26} y={202} turn={0} fill={live} />}
      <Peg x={liveAt.x} y={liveAt.y} turn={-62} fill={live} />
      {vehicle && <Peg x={86} y={202} turn={0} fill={earthed} />}
      <Peg x={lastAt.x} y={lastAt.y + (metal ? 4 : 0)} turn={metal ? 180 : 62} fill={earthed} />
      <g stroke="var(--copper)" strokeWidth="2.400" strokeLinecap="round">
        {[-60, -28, 28, 60].map((a) => {
          const s = Math.sin((a * Math.PI) / 180);
          const c = Math.cos((a * Math.PI) / 180);
          return (
            <path key={a} d={`M${lastAt.x + s * 17} ${lastAt.y - c * 17}L${lastAt.x + s * 25} ${lastAt.y - c * 25}`} />
          );
        })}
      </g>
      <Tag x={104} y={14} n={first.clamp!} colour={live} on={done >= 1} />
      {vehicle && <Tag x={27} y={130} n={2} colour={live} on={done >= 2} />}
      {vehicle && <Tag x={128} y={metal ? 192 : 132} n={3} colour={earthed} on={done >= 3} />}
      <Tag x={metal ? 276 : 296} y={metal ? 232 : 92} n={last.clamp!} colour={earthed} on={done >= last.clamp!} />
      <text x="50" y="84" fontSize="14" fontWeight="660" fill={live}>
        live side
      </text>
      <text x={metal ? 140 : 140} y={metal ? 259 : 242} fontSize="14" fontWeight="660" fill={earthed}>
        earthed side
      </text>
      {metal && !electric && !far && !post && (
        <>
          <path
            d="M262 62L290 152M257 64l10-3.500M285 154l10-3.500"
            stroke={SOFT}
            strokeWidth="1.400"
            strokeDasharray="4 3"
          />
          <text x="286" y="104" fontSize="13.500" fill={SOFT}>
            an arm
          </text>
        </>
      )}
    </svg>
  );
}
