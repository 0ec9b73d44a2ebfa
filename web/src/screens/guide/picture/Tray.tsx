import { Arrow, Upright } from "./Arrow";
import { ASIDE, CARD, HUSH, INK, IRON, LINE, SOFT, edge } from "./ink";
import { Cup, Fizz, Lens } from "./Tools";
import { Word } from "./Word";

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
      <Upright x={110} low={140} high={70} up={act === "off"} />
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
      {act === "off" && <Upright x={24} low={104} high={52} up={true} />}
      {act === "on" && <Upright x={24} low={98} high={44} up={false} />}
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
