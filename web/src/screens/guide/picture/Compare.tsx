import { Arrow } from "./Arrow";
import { Struck } from "./AtBattery";
import { type Stand } from "./Battery";
import { ASIDE, CARD, HUSH, INK, IRON, LIVE, SOFT, edge } from "./ink";
import { Cup } from "./Tools";
import { Word } from "./Word";

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
