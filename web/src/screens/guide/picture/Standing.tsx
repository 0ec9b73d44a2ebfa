import { ASIDE, CARD, HUSH, INK, LIVE, SOFT, edge } from "./ink";
import { Body, wheelsOf } from "./Vehicle";
import { Word } from "./Word";

/** A vehicle that stands for a season, and what of it is seen to. */
export function Standing({ kind, on }: { kind: string; on: string }) {
  const wheels = wheelsOf(kind);
  const ground = Math.max(226, ...wheels.map(([, y, r]) => y + r));
  return (
    <g>
      <path d={`M10 ${ground + 2}H390`} stroke={SOFT} strokeWidth="3" />
      <Body kind={kind} />
      {on === "tyres" &&
        wheels.map(([x, y, r]) => (
          <g key={x} fill="none" stroke={LIVE} strokeWidth="5" strokeLinecap="round">
            <path d={`M${x - r - 9} ${y + 4}A${r + 9} ${r + 9} 0 0 1 ${x + r + 9} ${y + 4}`} />
            <path d={`M${x + r + 1} ${y - 6}l8 10 8-10`} />
          </g>
        ))}
      {(on === "brake" || on === "free") &&
        wheels.map(([x, y, r], i) => {
          const aside = on === "free" ? 22 + 6 * i : 0;
          const at = x - r * 0.72 - aside;
          return (
            <path
              key={x}
              d={`M${at} ${y + r}h-32l32-24z`}
              fill={on === "free" ? ASIDE : LIVE}
              stroke={INK}
              strokeWidth="2"
            />
          );
        })}
      {on === "look" && (
        <g fill="none" stroke={LIVE} strokeWidth="6" strokeLinecap="round">
          <circle cx="250" cy="150" r="46" fill={CARD} fillOpacity="0.55" />
          <path d="M284 184l40 40" />
        </g>
      )}
      {on === "damp" && (
        <g>
          <path d="M330 40c18 24 26 36 26 48a26 26 0 0 1-52 0c0-12 8-24 26-48Z" fill={HUSH} {...edge} />
          <path d="M296 124l68-92" stroke={LIVE} strokeWidth="6" strokeLinecap="round" />
          <path
            d="M40 84c0-18 16-30 38-30s34 12 40 30c-10 8-24 12-40 12S46 92 40 84ZM58 54a12 12 0 1 1 14-8M40 84c-12 2-22-2-26-12"
            fill={HUSH}
            {...edge}
          />
          <path d="M30 112l90-70" stroke={LIVE} strokeWidth="6" strokeLinecap="round" />
        </g>
      )}
      {on === "tag" && (
        <g>
          <path d="M150 64V28M150 28c30-16 60-10 74 6" fill="none" stroke={LIVE} strokeWidth="4" />
          <path d="M112 64h76l14 18v92H98V82Z" fill={CARD} {...edge} />
          <circle cx="150" cy="82" r="6" fill={HUSH} {...edge} />
          <path d="M114 106h72M114 126h72M114 146h46" stroke={INK} strokeWidth="4" strokeLinecap="round" />
        </g>
      )}
      <Word x={200} y={284} end="middle">
        {says[on] ?? ""}
      </Word>
    </g>
  );
}

const says: Record<string, string> = {
  tyres: "half a turn at every look",
  brake: "brake off, both chocked",
  free: "chocks away first",
  damp: "dry, and no mice",
  tag: "what is off, and when next",
  look: "all round, and under",
};

/** A switch that parts the battery from the vehicle. */
export const Switch = ({ off }: { off: boolean }) => (
  <g>
    <circle cx="200" cy="132" r="84" fill={HUSH} {...edge} />
    <g transform={`rotate(${off ? 0 : 90} 200 132)`}>
      <rect x="182" y="58" width="36" height="148" rx="14" fill={CARD} {...edge} />
      <path d="M200 72v40" stroke={LIVE} strokeWidth="7" strokeLinecap="round" />
    </g>
    <Word x={200} y={36} end="middle">
      off
    </Word>
    <Word x={310} y={138}>
      on
    </Word>
    <path
      d={off ? "M296 96A112 112 0 0 0 244 32" : "M244 32A112 112 0 0 1 296 96"}
      fill="none"
      stroke={LIVE}
      strokeWidth="5"
    />
    <Word x={200} y={268} end="middle">
      {off ? "parted for the season" : "everything off, then this"}
    </Word>
  </g>
);
