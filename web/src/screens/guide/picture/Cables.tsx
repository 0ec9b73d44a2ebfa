import { Arrow } from "./Arrow";
import { End, type Stand } from "./Battery";
import { ASIDE, CARD, HUSH, INK, IRON, LIVE, edge } from "./ink";
import { Brush, Cup, Fizz, Lens } from "./Tools";
import { Word } from "./Word";

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
