import type { Side } from "../lib/api";

/** Where the two leads go: the battery from the front, each post with its side of the circuit. */
export function Posts(props: { plus: Side; minus: Side; tool: "probe" | "clamp"; small?: boolean | undefined }) {
  const { plus, minus, tool } = props;
  if (props.small) return <SmallPosts plus={plus} minus={minus} tool={tool} />;
  return (
    <svg
      viewBox="0 0 560 132"
      className="block w-full max-w-[560px]"
      role="img"
      aria-label={`${plus.lead} ${tool} on the ${plus.post} post, the ${plus.role} side. ${minus.lead} ${tool} on the ${minus.post} post, the ${minus.role} side.`}
    >
      <g fill="none" stroke="var(--ink)" strokeWidth="1.8">
        <path d="M137 52h286v76H137z" fill="var(--card)" />
        <path d="M137 68h286" />
        <rect x="167" y="36" width="30" height="16" rx="3" fill="var(--card)" />
        <rect x="363" y="36" width="30" height="16" rx="3" fill="var(--card)" />
        <g strokeWidth="1.2">
          {[232, 256, 280, 304, 328].map((cx) => (
            <circle key={cx} cx={cx} cy="60" r="4.5" />
          ))}
        </g>
        <path d="M182 36C167 12 127 14 104 30" stroke="var(--copper)" strokeWidth="3.4" />
        <path d="M378 36c15-24 55-22 78-6" strokeWidth="3.4" />
        {plus.role === "earthed" && <Earth x={182} />}
        {minus.role === "earthed" && <Earth x={378} />}
      </g>
      <text x="182" y="101" textAnchor="middle" fontSize="26" fontWeight="700" fill="var(--copper)">
        {plus.post}
      </text>
      <text x="378" y="99" textAnchor="middle" fontSize="26" fontWeight="700" fill="var(--ink)">
        {minus.post}
      </text>
      <Lead x={98} anchor="end" fill="var(--copper)" side={plus} tool={tool} />
      <Lead x={462} anchor="start" fill="var(--ink)" side={minus} tool={tool} />
      <text x="280" y="118" textAnchor="middle" fontSize="14" fill="var(--soft)">
        press through the film to bright metal
      </text>
    </svg>
  );
}

/** The same beside an entry: low, so that figure and keypad stay on the screen, with words as large. */
function SmallPosts({ plus, minus, tool }: { plus: Side; minus: Side; tool: string }) {
  return (
    <svg
      viewBox="0 0 358 62"
      className="block w-full"
      role="img"
      aria-label={`${plus.lead} ${tool} on the ${plus.post} post, the ${plus.role} side. ${minus.lead} ${tool} on the ${minus.post} post, the ${minus.role} side.`}
    >
      <g fill="none" stroke="var(--ink)" strokeWidth="1.8">
        <path d="M112 24h134v36H112z" fill="var(--card)" />
        <rect x="126" y="15" width="20" height="9" rx="2" fill="var(--card)" />
        <rect x="212" y="15" width="20" height="9" rx="2" fill="var(--card)" />
        <path d="M136 15C130 3 112 4 100 16" stroke="var(--copper)" strokeWidth="3.2" />
        <path d="M222 15c6-12 24-11 36 1" strokeWidth="3.2" />
      </g>
      <text x="136" y="53" textAnchor="middle" fontSize="24" fontWeight="700" fill="var(--copper)">
        {plus.post}
      </text>
      <text x="222" y="53" textAnchor="middle" fontSize="24" fontWeight="700" fill="var(--ink)">
        {minus.post}
      </text>
      {[
        { side: plus, x: 96, anchor: "end" as const, fill: "var(--copper)" },
        { side: minus, x: 262, anchor: "start" as const, fill: "var(--ink)" },
      ].map(({ side, x, anchor, fill }) => (
        <text key={side.post} x={x} y="26" textAnchor={anchor} fontSize="15" fontWeight="650" fill={fill}>
          {side.lead} {tool}
          <tspan x={x} dy="18" fontWeight="500">
            {side.role} side
          </tspan>
        </text>
      ))}
    </svg>
  );
}

function Lead(props: { x: number; anchor: "start" | "end"; fill: string; side: Side; tool: string }) {
  return (
    <text x={props.x} y="30" textAnchor={props.anchor} fontSize="15" fontWeight="650" fill={props.fill}>
      {props.side.lead} {props.tool}
      <tspan x={props.x} dy="19" fontWeight="500">
        {props.side.role} side
      </tspan>
    </text>
  );
}

/** The sign for "bonded to the body". */
function Earth({ x }: { x: number }) {
  return <path d={`M${x - 26} 44h-0M${x + 15} 44h16v14m-9 0h18m-14 5h10m-7 5h4`} strokeWidth="1.6" />;
}
