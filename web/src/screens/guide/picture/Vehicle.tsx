import { Arrow, Upright } from "./Arrow";
import { ASIDE, CARD, HUSH, INK, IRON, LIVE, SOFT, edge } from "./ink";
import { Word } from "./Word";

const silhouettes: Record<
  string,
  { body: string; wheels: [number, number, number][]; at: Record<string, [number, number]> }
> = {
  car: {
    body: "M24 206C26 178 44 168 84 162L132 122C140 114 150 112 164 112H252C264 112 274 116 284 126L316 160C356 164 376 176 376 206H340A34 34 0 0 0 272 206H132A34 34 0 0 0 64 206Z",
    wheels: [
      [98, 208, 26],
      [306, 208, 26],
    ],
    at: { front: [72, 176], boot: [338, 180], seat: [250, 192], side: [200, 192], box: [200, 192] },
  },
  van: {
    body: "M22 208V172C24 158 34 152 48 148L76 96C80 88 88 84 98 84H372V208H336A32 32 0 0 0 272 208H134A32 32 0 0 0 70 208Z",
    wheels: [
      [102, 210, 25],
      [304, 210, 25],
    ],
    at: { front: [52, 172], boot: [346, 176], seat: [138, 184], side: [220, 188], box: [222, 200] },
  },
  bike: {
    body: "M96 206L150 136H236L262 108H286L268 136 318 206M150 136L118 118H92M236 136L220 190H166Z",
    wheels: [
      [92, 208, 40],
      [320, 208, 40],
    ],
    at: { front: [192, 164], boot: [140, 128], seat: [164, 130], side: [194, 168], box: [194, 168] },
  },
  tractor: {
    body: "M60 190V150H178L190 104H262V150C262 166 250 176 236 190H60ZM190 104V150M78 150V128H98V150",
    wheels: [
      [102, 212, 30],
      [284, 192, 52],
    ],
    at: { front: [96, 168], boot: [236, 166], seat: [224, 142], side: [170, 172], box: [186, 184] },
  },
  boat: {
    body: "M24 172H292L320 140H372L348 214C346 222 340 226 330 226H92C60 226 34 206 24 172ZM176 172L194 128H262L278 172",
    wheels: [],
    at: { front: [330, 180], boot: [60, 190], seat: [226, 192], side: [226, 192], box: [96, 194] },
  },
};
const shapeOf: Record<string, string> = {
  car: "car",
  hybrid: "car",
  electric: "car",
  classic: "car",
  van: "van",
  motorhome: "van",
  motorcycle: "bike",
  atv: "tractor",
  mower: "tractor",
  tractor: "tractor",
  boat: "boat",
};

const outlineOf = (kind: string) => silhouettes[shapeOf[kind] ?? "car"]!;

/** Where the wheels of a kind of vehicle stand: middle and radius. */
export const wheelsOf = (kind: string) => outlineOf(kind).wheels;

/** A vehicle as it stands. */
export function Body({ kind }: { kind: string }) {
  const of = outlineOf(kind);
  return (
    <>
      <path d={of.body} fill={HUSH} {...edge} />
      {of.wheels.map(([cx, cy, r]) => (
        <g key={cx}>
          <circle cx={cx} cy={cy} r={r} fill={CARD} {...edge} />
          <circle cx={cx} cy={cy} r={r * 0.4} fill={HUSH} {...edge} />
        </g>
      ))}
    </>
  );
}

/** Where in the vehicle the battery is reached, and what opens. */
export function Vehicle({ kind, place, close, panel }: { kind: string; place: string; close: boolean; panel: string }) {
  const of = outlineOf(kind);
  const [x, y] = of.at[place] ?? of.at.front!;
  return (
    <g>
      <Body kind={kind} />
      <rect x={x - 24} y={y - 17} width="48" height="34" rx="3" fill={CARD} stroke={LIVE} strokeWidth="3.600" />
      <path
        d={`M${x - 13} ${y - 6}h9M${x - 8.5} ${y - 10.5}v9M${x + 5} ${y - 6}h9`}
        stroke={LIVE}
        strokeWidth="2.600"
      />
      <Upright x={x} low={y - 44} high={y - 112} up={!close} colour={LIVE} />
      <path
        d={`M${x - 34} ${y - 24}h68`}
        stroke={LIVE}
        strokeWidth="6"
        strokeLinecap="round"
        transform={`rotate(${close ? 0 : -24} ${x - 34} ${y - 24})`}
      />
      <text x={Math.min(Math.max(x, 70), 330)} y="278" textAnchor="middle" fontSize="19" fontWeight="700" fill={INK}>
        {panel}
      </text>
    </g>
  );
}

/** What the vehicle has forgotten, or will. */
export const Dash = () => (
  <g {...edge}>
    <path d="M26 236V150C26 84 96 60 200 60S374 84 374 150V236Z" fill={HUSH} />
    <circle cx="108" cy="152" r="48" fill={CARD} />
    <path d="M108 116v36l24 14" fill="none" strokeWidth="5" />
    <path d="M180 112h176v44H180Z" fill={CARD} />
    <text x="268" y="142" textAnchor="middle" fontSize="22" fontWeight="740" fill={INK} stroke="none">
      – – : – –
    </text>
    <path d="M184 176h72v42h-72Z" fill={CARD} />
    <path d="M196 208c6-20 36-20 48 0M196 208h48" fill="none" />
    <path d="M276 176h76v42h-76Z" fill={CARD} />
    <path d="M292 206v-16l14 10 14-10v16M330 190v16" fill="none" />
    <Word x={220} y={262} end="middle">
      clock, windows, radio, seats
    </Word>
  </g>
);

/** A small supply that keeps the vehicle's memories. */
export const Supply = ({ socket, off }: { socket: boolean; off: boolean }) => (
  <g>
    <rect x="30" y="60" width="130" height="96" rx="10" fill={HUSH} {...edge} />
    <circle cx="95" cy="96" r="15" fill={off ? CARD : ASIDE} {...edge} />
    <Word x={95} y={142} end="middle">
      {off ? "off last" : "lamp on"}
    </Word>
    {socket ? (
      <g>
        <path d="M160 108C220 108 210 200 262 200" fill="none" stroke={INK} strokeWidth="6" />
        <path d={`M262 184h44l16 8v16l-16 8h-44Z`} fill={CARD} {...edge} />
        <path d="M352 164a36 36 0 0 1 0 72Z" fill={HUSH} {...edge} />
        <circle cx="352" cy="200" r="12" fill={INK} />
        <Arrow d={off ? "M322 262H262" : "M262 262H322"} at={off ? [262, 262] : [322, 262]} turn={off ? 180 : 0} />
        <Word x={340} y={150} end="middle">
          socket
        </Word>
      </g>
    ) : (
      <g>
        <path d="M160 92C230 70 262 80 300 104" fill="none" stroke={LIVE} strokeWidth="6" />
        <path d="M160 122C220 150 240 220 300 236" fill="none" stroke={IRON} strokeWidth="6" />
        <path d="M296 92l34 10-6 16-32-8Z" fill={LIVE} {...edge} />
        <path d="M296 226l34 4-4 16-32-4Z" fill={IRON} {...edge} />
        <path d="M326 104C356 112 372 124 392 126" fill="none" stroke={INK} strokeWidth="14" />
        <path d="M326 104C356 112 372 124 392 126" fill="none" stroke={LIVE} strokeWidth="10" />
        <path d="M330 214h62v46h-62Z" fill={HUSH} {...edge} />
        <Word x={300} y={78} colour={LIVE}>
          live cable
        </Word>
        <Word x={361} y={282} end="middle">
          body
        </Word>
      </g>
    )}
    <path d="M66 200h58l-8 34H74Z" fill={CARD} {...edge} />
    <Word x={95} y={224} end="middle">
      2 A
    </Word>
    <path d="M95 156v44" stroke={INK} strokeWidth="3" />
    <Word x={95} y={258} end="middle" colour={SOFT}>
      fused
    </Word>
  </g>
);
