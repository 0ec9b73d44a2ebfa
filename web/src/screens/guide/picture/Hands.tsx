import { Arrow } from "./Arrow";
import { Struck } from "./AtBattery";
import { CARD, HUSH, LIVE, LINE, edge } from "./ink";
import { Brush } from "./Tools";
import { Word } from "./Word";

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
