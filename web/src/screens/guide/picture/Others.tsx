import type { ReactNode } from "react";
import { Arrow } from "./Arrow";
import { Struck } from "./AtBattery";
import { End, type Stand } from "./Battery";
import { ASIDE, CARD, HUSH, INK, IRON, LIVE, LINE, SOFT, word } from "./ink";
import { Brush, Cup, Fizz, Lens } from "./Tools";

const edge = { stroke: INK, strokeWidth: 2.4, strokeLinejoin: "round", strokeLinecap: "round" } as const;
const Word = (p: { x: number; y: number; children: ReactNode; end?: "middle" | "end"; colour?: string }) => (
  <text x={p.x} y={p.y} textAnchor={p.end ?? "start"} {...word} fill={p.colour ?? INK} stroke="none">
    {p.children}
  </text>
);

/** What hands and eyes wear, and where the key is. */
export const Hands = ({ high }: { high: boolean }) => (
  <g {...edge}>
    <path
      d="M58 250V180L40 128a10 10 0 0 1 19-6L72 148V72a10 10 0 0 1 20 0v58-74a10 10 0 0 1 20 0v74-64a10 10 0 0 1 20 0v70-46a10 10 0 0 1 20 0v82C152 210 142 226 138 250Z"
      fill={HUSH}
    />
    <path d="M54 238H142V262H54Z" fill={LINE} />
    <path d="M196 96c30-16 74-16 104 0 10 6 10 60-14 60-22 0-24-24-38-24s-16 24-38 24c-24 0-24-54-14-60Z" fill={HUSH} />
    <path d="M208 106c24-12 56-12 80 0-2 30-6 38-14 38-14 0-16-24-26-24s-12 24-26 24c-8 0-12-8-14-38Z" fill={CARD} />
    <path d="M196 108l-18-8M300 108l18-8" strokeWidth="5" />
    {high ? (
      <g>
        <path d="M200 224h150" stroke="var(--copper)" strokeWidth="14" />
        <Word x={200} y={262} colour={LIVE}>
          orange: not ours
        </Word>
        <Struck d="M256 196L304 252" />
      </g>
    ) : (
      <g>
        <circle cx="226" cy="222" r="22" fill={HUSH} />
        <circle cx="226" cy="222" r="8" fill={CARD} />
        <path d="M248 216H322l10 8-10 8h-12v10h-12v-10h-14v10h-12v-12H247Z" fill={HUSH} />
        <Arrow d="M346 224H380" at={[380, 224]} turn={0} />
        <Word x={262} y={262}>
          far away
        </Word>
      </g>
    )}
  </g>
);

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

/** Where in the vehicle the battery is reached, and what opens. */
export function Vehicle({ kind, place, close, panel }: { kind: string; place: string; close: boolean; panel: string }) {
  const of = silhouettes[shapeOf[kind] ?? "car"]!;
  const [x, y] = of.at[place] ?? of.at.front!;
  return (
    <g>
      <path d={of.body} fill={HUSH} {...edge} />
      {of.wheels.map(([cx, cy, r]) => (
        <g key={cx}>
          <circle cx={cx} cy={cy} r={r} fill={CARD} {...edge} />
          <circle cx={cx} cy={cy} r={r * 0.4} fill={HUSH} {...edge} />
        </g>
      ))}
      <rect x={x - 24} y={y - 17} width="48" height="34" rx="3" fill={CARD} stroke={LIVE} strokeWidth="3.600" />
      <path
        d={`M${x - 13} ${y - 6}h9M${x - 8.5} ${y - 10.5}v9M${x + 5} ${y - 6}h9`}
        stroke={LIVE}
        strokeWidth="2.600"
      />
      <Arrow
        d={close ? `M${x} ${y - 112}V${y - 44}` : `M${x} ${y - 44}V${y - 112}`}
        at={close ? [x, y - 44] : [x, y - 112]}
        turn={close ? 90 : -90}
        colour={LIVE}
      />
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

/** A cable's end: dipped, brushed, looked at. */
export function CableEnd({ s, act, onlyEarthed }: { s: Stand; act: string; onlyEarthed: boolean }) {
  if (act === "dip")
    return (
      <g>
        <g transform="translate(140 190) scale(1.900)">
          <Cup x={0} y={0} />
        </g>
        <path d="M-200 16H20C100 16 132 50 138 108" fill="none" stroke={INK} strokeWidth="20" strokeLinecap="round" />
        <path d="M-200 16H20C100 16 132 50 138 108" fill="none" stroke={IRON} strokeWidth="15" strokeLinecap="round" />
        <g transform="translate(140 122)">
          <End terminals={s.terminals} role="earthed" dir={1} />
        </g>
        <Fizz x={140} y={96} />
        {onlyEarthed ? (
          <g>
            <g transform="translate(312 120)">
              <path d="M-34 30V-6A34 34 0 0 1 34-6V30Z" fill={LIVE} {...edge} />
              <path d="M-16 4H16M0-12V20" stroke={CARD} strokeWidth="5" />
            </g>
            <path d="M312 84C320 40 350 26 400 26H600" fill="none" stroke={LIVE} strokeWidth="13" />
            <Word x={312} y={182} end="middle" colour={LIVE}>
              still live:
            </Word>
            <Word x={312} y={204} end="middle" colour={LIVE}>
              not in here
            </Word>
          </g>
        ) : (
          <g>
            <path d="M600 26H400C330 26 298 50 296 104" fill="none" stroke={INK} strokeWidth="20" />
            <path d="M600 26H400C330 26 298 50 296 104" fill="none" stroke={LIVE} strokeWidth="15" />
            <g transform="translate(296 116)">
              <End terminals={s.terminals} role="live" dir={1} />
            </g>
            <Arrow d="M258 150C240 176 220 170 206 150" at={[206, 150]} turn={-124} />
          </g>
        )}
      </g>
    );
  const lens = act === "look";
  return (
    <g>
      <path d="M70 118C150 90 230 150 318 96" fill="none" stroke={INK} strokeWidth="28" strokeLinecap="round" />
      <path d="M70 118C150 90 230 150 318 96" fill="none" stroke={IRON} strokeWidth="22" strokeLinecap="round" />
      <g transform="translate(70 112) scale(1.300)">
        <End terminals={s.terminals} role="earthed" dir={-1} />
      </g>
      <g transform="translate(340 88)">
        <path d="M-22-14h44v28h-44Z" fill={HUSH} {...edge} />
        <path d="M-10 0-5-8.700H5L10 0 5 8.700H-5Z" fill={CARD} {...edge} />
      </g>
      <Word x={70} y={170} end="middle">
        at the battery
      </Word>
      <Word x={384} y={58} end="end">
        at body, engine
      </Word>
      {lens ? (
        <g>
          <Lens x={168} y={216} r={50}>
            <g fill="none" strokeWidth="7" strokeLinecap="round">
              <path d="M-34-18C-10-28 10-8 36-20" stroke={ASIDE} />
              <path d="M-40-2C-12-12 12 8 40-4" stroke={LIVE} />
              <path d="M-36 14C-10 4 10 24 38 12" stroke={ASIDE} />
            </g>
          </Lens>
          <path d="M176 128l-4 34" stroke={INK} strokeWidth="2" strokeDasharray="5 5" />
          <Word x={252} y={222}>
            green inside?
          </Word>
        </g>
      ) : (
        <g>
          <Brush x={120} y={96} turn={38} />
          <Brush x={300} y={74} turn={-34} />
          <Word x={200} y={240} end="middle">
            bright at both ends
          </Word>
        </g>
      )}
    </g>
  );
}

/** The tray without its battery. */
export const Tray = ({ act, on, module }: { act: string; on: string; module: boolean }) => (
  <g>
    <path d="M60 190L96 132H304L340 190V232H60Z" fill={CARD} {...edge} />
    <path d="M60 190H340" {...edge} />
    <path d="M92 176L114 144H286L308 176Z" fill={HUSH} {...edge} />
    {module && (
      <g transform={on === "module" && act === "off" ? "translate(0 -66)" : undefined}>
        <path d="M156 152h88v18h-88Z" fill={LINE} {...edge} />
        <path d="M244 156h22v10h-22Z" fill={CARD} {...edge} />
        <Word x={200} y={on === "module" ? 144 : 166} end="middle">
          {on === "module" ? "module" : ""}
        </Word>
      </g>
    )}
    {on === "module" ? (
      <Arrow
        d={act === "off" ? "M110 140V70" : "M110 60V130"}
        at={act === "off" ? [110, 70] : [110, 130]}
        turn={act === "off" ? -90 : 90}
      />
    ) : (
      <g>
        <Cup x={70} y={84} />
        <Arrow d="M106 62C150 44 186 60 196 128" at={[196, 128]} turn={82} />
        <Fizz x={206} y={152} />
        <Word x={238} y={84}>
          soda, rinse, dry
        </Word>
        <path d="M128 262C150 236 172 262 196 244" fill="none" stroke={ASIDE} strokeWidth="3" />
        <Word x={206} y={266} colour={ASIDE}>
          acid marks: why?
        </Word>
      </g>
    )}
  </g>
);

/** The cells cut open: plates, acid, caps. */
export function Cells({ n, act, off, full }: { n: number; act: string; off: boolean; full: boolean }) {
  const w = 300 / n;
  const mark = 138;
  const cover = 172;
  const bare = 206;
  const at = act === "mark" ? mark : act === "fill" ? cover : full ? cover - 6 : bare;
  return (
    <g>
      <path d="M44 116H356V286H44Z" fill={CARD} {...edge} />
      {Array.from({ length: n }, (_, i) => {
        const x = 50 + i * w;
        return (
          <g key={i}>
            <path
              d={`M${x} ${act === "look" ? [bare, cover, mark + 8, cover, bare + 8, cover][i % 6] : at}H${x + w}V282H${x}Z`}
              fill={IRON}
              fillOpacity="0.32"
            />
            <path
              d={`M${x + w * 0.2} 188V278M${x + w * 0.4} 188V278M${x + w * 0.6} 188V278M${x + w * 0.8} 188V278`}
              stroke={INK}
              strokeWidth="3"
            />
            {i > 0 && <path d={`M${x} 116V286`} {...edge} strokeWidth="1.600" />}
            <path d={`M${x + w / 2 - 9} 104h18v34h-18Z`} fill={CARD} {...edge} strokeWidth="1.600" />
            {!off && <path d={`M${x + w / 2 - 14} 92h28v14h-28Z`} fill={HUSH} {...edge} strokeWidth="1.800" />}
            {off && act === "off" && (
              <path d={`M${x + w / 2 - 14} 40h28v14h-28Z`} fill={HUSH} {...edge} strokeWidth="1.800" />
            )}
          </g>
        );
      })}
      <path d="M44 138H356" stroke={ASIDE} strokeWidth="2.400" strokeDasharray="8 6" />
      <text x="394" y="134" textAnchor="end" fontSize="14.500" fontWeight="660" fill={ASIDE}>
        mark
      </text>
      <path d="M44 184H356" stroke={SOFT} strokeWidth="1.600" strokeDasharray="3 5" />
      <text x="396" y="180" textAnchor="end" fontSize="14.500" fontWeight="660" fill={SOFT}>
        plates
      </text>
      {act === "off" && <Arrow d="M24 104V52" at={[24, 52]} turn={-90} />}
      {act === "on" && <Arrow d="M24 44V98" at={[24, 98]} turn={90} />}
      {(act === "fill" || act === "mark") && (
        <g>
          <path d="M20 26h64v52H20ZM84 36l34 30" fill={HUSH} {...edge} />
          <Word x={52} y={58} end="middle">
            distilled
          </Word>
          <g fill={IRON}>
            <circle cx="122" cy="78" r="4" />
            <circle cx="126" cy="92" r="4" />
          </g>
          <Word x={200} y={60}>
            {act === "fill" ? "just over the plates" : "to the mark, no more"}
          </Word>
        </g>
      )}
      {act === "look" && (
        <Lens x={330} y={56} r={26}>
          <path d="M-14 4C-6-4 6-4 14 4" stroke={INK} strokeWidth="3" fill="none" />
        </Lens>
      )}
    </g>
  );
}

/** Old and new beside each other. */
export const Compare = ({ s, test }: { s: Stand; test: boolean }) => {
  const plus = s.sign.live === "+" ? s.live : s.live === "left" ? "right" : "left";
  const one = (x: number, name: string, fresh: boolean) => (
    <g transform={`translate(${x} 96)`}>
      <path d="M0 30H150V150H0Z" fill={fresh ? CARD : HUSH} {...edge} />
      <path d="M0 30L12 8H138L150 30Z" fill={CARD} {...edge} />
      <circle cx={34} cy="14" r="9" fill={CARD} {...edge} />
      <circle cx={116} cy="14" r="9" fill={CARD} {...edge} />
      <text x={plus === "left" ? 34 : 116} y="70" textAnchor="middle" fontSize="32" fontWeight="760" fill={LIVE}>
        +
      </text>
      <text x={plus === "left" ? 116 : 34} y="70" textAnchor="middle" fontSize="32" fontWeight="760" fill={INK}>
        −
      </text>
      <Word x={75} y={128} end="middle">
        {name}
      </Word>
    </g>
  );
  if (test)
    return (
      <g>
        {one(126, "new", true)}
        <rect x="158" y="16" width="84" height="56" rx="8" fill={HUSH} {...edge} />
        <text x="200" y="52" textAnchor="middle" fontSize="22" fontWeight="760" fill={INK}>
          12.7
        </text>
        <path d="M176 72C170 88 162 94 160 104M224 72C232 86 240 94 242 104" fill="none" stroke={INK} strokeWidth="3" />
        <path
          d="M296 190l16 18 34-44"
          fill="none"
          stroke={ASIDE}
          strokeWidth="7"
          strokeLinecap="round"
          strokeLinejoin="round"
        />
        <Word x={321} y={238} end="middle" colour={ASIDE}>
          test first
        </Word>
      </g>
    );
  return (
    <g>
      {one(30, "old", false)}
      {one(220, "new", true)}
      <g fill="none" stroke={ASIDE} strokeWidth="2.600" strokeLinecap="round">
        <path d="M30 268H180M220 268H370M30 262v12M180 262v12M220 262v12M370 262v12" />
      </g>
      <Word x={200} y={274} end="middle" colour={ASIDE}>
        =
      </Word>
      <path
        d={`M${plus === "left" ? 64 : 146} 92C${plus === "left" ? 110 : 180} 40 ${plus === "left" ? 200 : 290} 40 ${plus === "left" ? 254 : 336} 92`}
        fill="none"
        stroke={LIVE}
        strokeWidth="2.600"
        strokeDasharray="6 6"
      />
      <Word x={200} y={46} end="middle" colour={LIVE}>
        + on the same side
      </Word>
    </g>
  );
};

/** Vents covered before soda; elbow and plug going over to the new battery. */
export const Vents = ({
  move,
  opens,
  elbow,
  plug,
}: {
  move: boolean;
  opens: boolean;
  elbow: boolean;
  plug: boolean;
}) =>
  move ? (
    <g>
      {[
        [20, "old"],
        [224, "new"],
      ].map(([x, name]) => (
        <g key={name} transform={`translate(${x} 130)`}>
          <path d="M0 0H156V130H0Z" fill={name === "old" ? HUSH : CARD} {...edge} />
          <Word x={78} y={76} end="middle">
            {name}
          </Word>
          <circle cx="10" cy="22" r="6" fill={INK} />
          <circle cx="146" cy="22" r="6" fill={INK} />
        </g>
      ))}
      {(elbow || !plug) && (
        <g>
          <path d="M166 152h24v-34" fill="none" stroke={INK} strokeWidth="13" strokeLinejoin="round" />
          <path d="M166 152h24v-34" fill="none" stroke={CARD} strokeWidth="8" strokeLinejoin="round" />
          <Arrow d="M190 104C220 44 330 44 366 122" at={[366, 122]} turn={72} colour={LIVE} />
          <Word x={278} y={46} end="middle" colour={LIVE}>
            {elbow ? "elbow" : "what was on it"}
          </Word>
        </g>
      )}
      {plug && (
        <g>
          <path d="M24 152h-16v-8h-6v24h6v-8h16Z" fill={LIVE} {...edge} transform="translate(6 -4)" />
          <Arrow d="M26 128C60 74 180 84 220 136" at={[220, 136]} turn={52} />
          <Word x={120} y={86} end="middle">
            plug
          </Word>
        </g>
      )}
    </g>
  ) : (
    <g>
      <path d="M30 230L74 120H326L370 230Z" fill={CARD} {...edge} />
      <path d="M30 230H370V266H30Z" fill={HUSH} {...edge} />
      {opens
        ? [0, 1, 2, 3, 4, 5].map((i) => (
            <g key={i} transform={`translate(${100 + i * 40} 172)`}>
              <ellipse rx="15" ry="10" fill={HUSH} {...edge} />
              <path d="M-8-1H8" {...edge} />
              <path d="M-12-16A16 9 0 0 1 12-16" fill="none" stroke={INK} strokeWidth="2.400" />
            </g>
          ))
        : null}
      {!opens &&
        [60, 340].map((x) => (
          <g key={x} transform={`translate(${x} 200)`}>
            <circle r="7" fill={INK} />
            <path d="M-24-14H24V14H-24Z" fill={ASIDE} fillOpacity="0.75" {...edge} transform="rotate(-12)" />
          </g>
        ))}
      <g transform="translate(200 66)">
        <Cup x={0} y={10} />
        <Struck d="M-44-46L44 30" />
      </g>
      <Word x={258} y={70}>
        none into a cell
      </Word>
    </g>
  );

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

/** The old battery, made safe for its last way. */
export const Old = () => (
  <g>
    <path d="M90 118H270V246H90Z" fill={HUSH} {...edge} />
    <path d="M90 118L104 92H256L270 118Z" fill={CARD} {...edge} />
    <path d="M112 82h40v24h-40ZM208 82h40v24h-40Z" fill={ASIDE} fillOpacity="0.75" {...edge} />
    <Word x={180} y={72} end="middle" colour={ASIDE}>
      posts taped
    </Word>
    <path d="M128 150h104v56H128Z" fill={CARD} {...edge} />
    <path d="M140 168h80M140 182h80M140 196h44" stroke={SOFT} strokeWidth="3" />
    <g
      transform="translate(330 180)"
      fill="none"
      stroke={ASIDE}
      strokeWidth="6"
      strokeLinejoin="round"
      strokeLinecap="round"
    >
      <path d="M-14-34L0-58 14-34M34-6L20 22H-6M-34-6L-20 22" />
      <path d="M8-42l8 10 8-14M-8 14l-2 12 12 4M-40-10l8 8 10-8" />
    </g>
    <Word x={200} y={276} end="middle">
      upright, to the recycler
    </Word>
  </g>
);

/** What is left over. */
export const Waste = () => (
  <g {...edge}>
    <path d="M44 120H184L168 256H60Z" fill={HUSH} />
    <path d="M52 150C80 138 104 164 132 150 152 142 166 156 178 148L168 256H60Z" fill={LINE} />
    <Word x={114} y={214} end="middle">
      runoff
    </Word>
    <g transform="translate(150 116)">
      <Brush x={0} y={0} turn={24} />
    </g>
    <path
      d="M256 232V190L244 158a7 7 0 0 1 13-4L266 170V124a7 7 0 0 1 14 0v34-44a7 7 0 0 1 14 0v44-38a7 7 0 0 1 14 0v42-28a7 7 0 0 1 14 0v50C322 208 314 218 312 232Z"
      fill={HUSH}
    />
    <Arrow d="M340 200C372 190 372 236 350 250" at={[350, 250]} turn={138} />
    <Word x={288} y={270} end="middle">
      gloves last
    </Word>
  </g>
);

/** It hangs on a charger. */
export const OnCharger = () => (
  <g>
    <path d="M180 130H360V256H180Z" fill={CARD} {...edge} />
    <path d="M180 130L194 104H346L360 130Z" fill={HUSH} {...edge} />
    <path d="M206 84h20v26h-20ZM314 84h20v26h-20Z" fill={CARD} {...edge} />
    <rect x="24" y="140" width="112" height="100" rx="8" fill={HUSH} {...edge} />
    <text x="80" y="200" textAnchor="middle" fontSize="22" fontWeight="740" fill={INK}>
      charger
    </text>
    <path d="M56 140C56 60 190 30 216 88" fill="none" stroke={IRON} strokeWidth="6" />
    <path d="M104 140C110 20 310 10 324 88" fill="none" stroke={LIVE} strokeWidth="6" />
    <Word x={270} y={200} end="middle">
      caps tight
    </Word>
  </g>
);
