import { CARD, HUSH, INK, LIVE, SOFT, edge } from "./ink";

type At = { x: number; y: number; turn?: number };
const put = ({ x, y, turn = 0 }: At) => `translate(${x} ${y}) rotate(${turn})`;
/** A ring spanner, its head at the place given. */
export const Spanner = (at: At) => (
  <g transform={put(at)}>
    <path d="M14-7H150a8 8 0 0 1 0 14H14Z" fill={HUSH} {...edge} />
    <circle r="20" fill={HUSH} {...edge} />
    <path d="M-10 0-5-8.700H5L10 0 5 8.700H-5Z" fill={CARD} {...edge} />
  </g>
);

/** A folded cloth. */
export const Cloth = (at: At) => (
  <g transform={put(at)} fill={CARD} {...edge}>
    <path d="M-34 8C-30-14-8-16 4-12 18-20 40-8 36 8 20 16-20 18-34 8Z" />
    <path d="M-22 4C-10-4 4-2 8-8M-4 10C8 4 20 6 28 0" fill="none" strokeWidth="1.400" stroke={SOFT} />
  </g>
);

/** A scraper of plastic: its blade at the place given. */
export const Scraper = (at: At) => (
  <g transform={put(at)} {...edge}>
    <path d="M-16 0H16L10-30H-10Z" fill={CARD} />
    <path d="M-9-30H9V-86a9 9 0 0 0-18 0Z" fill={HUSH} />
  </g>
);

/** A brush with its bristles at the place given. */
export const Brush = (at: At) => (
  <g transform={put(at)} {...edge}>
    <path d="M-14-14H14V0H-14Z" fill={CARD} />
    <path d="M-10 0V-14M-5 0V-14M0 0V-14M5 0V-14M10 0V-14" strokeWidth="1.400" />
    <path d="M-14-26H14V-14H-14ZM-6-26H6V-92a6 6 0 0 0-12 0Z" fill={HUSH} />
  </g>
);

/** A cup of soda water. */
export const Cup = ({ x, y }: At) => (
  <g transform={`translate(${x} ${y})`} {...edge}>
    <path d="M-30-44H30L24 14H-24Z" fill={CARD} />
    <path d="M-28-28C-16-34-6-22 4-28 14-34 20-24 28-28L24 14H-24Z" fill={HUSH} strokeWidth="1.400" />
    <text y="2" textAnchor="middle" fontSize="16" fontWeight="640" fill={INK} stroke="none">
      soda
    </text>
  </g>
);

/** Fizz: acid is left. */
export const Fizz = ({ x, y }: At) => (
  <g transform={`translate(${x} ${y})`} fill={CARD} stroke={INK} strokeWidth="1.600">
    {[
      [-22, 4, 5],
      [-9, -4, 7],
      [4, 5, 5],
      [15, -5, 6],
      [26, 4, 4],
      [-14, -16, 4],
      [8, -18, 4.5],
    ].map(([cx, cy, r]) => (
      <circle key={`${cx}`} cx={cx} cy={cy} r={r} />
    ))}
  </g>
);

/** A spray can, its nozzle at the place given, spraying to the left. */
export const Can = ({ x, y }: At) => (
  <g transform={`translate(${x} ${y})`} {...edge}>
    <path d="M0-6H14V8H0Z" fill={CARD} />
    <path d="M2 8H34a6 6 0 0 1 6 6V88H-4V14a6 6 0 0 1 6-6Z" fill={HUSH} />
    <g stroke={LIVE} strokeWidth="2.200" strokeLinecap="round" strokeDasharray="5 7">
      <path d="M-8-2-62-26M-8 1-70 4M-8 4-62 32" />
    </g>
  </g>
);

/** A meter with its figure, and where its probes go. */
export function Meter({ x, y, to, show }: At & { to: [number, number, number, number]; show: string }) {
  return (
    <g>
      <g fill="none" strokeWidth="3" strokeLinecap="round">
        <path
          d={`M${x - 14} ${y + 34}C${x - 20} ${y + 70} ${to[0] - 20} ${to[1] - 60} ${to[0]} ${to[1]}`}
          stroke={INK}
        />
        <path
          d={`M${x + 14} ${y + 34}C${x + 20} ${y + 70} ${to[2] + 20} ${to[3] - 60} ${to[2]} ${to[3]}`}
          stroke={LIVE}
        />
      </g>
      <circle cx={to[0]} cy={to[1]} r="5" fill={INK} />
      <circle cx={to[2]} cy={to[3]} r="5" fill={LIVE} />
      <rect x={x - 42} y={y - 34} width="84" height="68" rx="8" fill={HUSH} {...edge} />
      <rect x={x - 32} y={y - 24} width="64" height="30" rx="3" fill={CARD} {...edge} strokeWidth="1.400" />
      <text x={x} y={y - 2} textAnchor="middle" fontSize="19" fontWeight="740" fill={INK}>
        {show}
      </text>
      <circle cx={x} cy={y + 20} r="7" fill={CARD} {...edge} strokeWidth="1.400" />
    </g>
  );
}

/** A hand that tries to turn something. */
export const Hand = (at: At) => (
  <g transform={put(at)} fill={CARD} {...edge}>
    <path d="M-16 40V8L-24-14a6 6 0 0 1 11-5L-8-6V-36a6 6 0 0 1 12 0V-10L6-38a6 6 0 0 1 12 1L16-8 22-30a6 6 0 0 1 11 3L26 8 18 40Z" />
  </g>
);

/** A lens, its glass at the place given. */
export const Lens = ({ x, y, r = 34, children }: At & { r?: number; children?: React.ReactNode }) => (
  <g transform={`translate(${x} ${y})`}>
    <circle r={r} fill={CARD} {...edge} strokeWidth="3" />
    {children}
    <path d={`M${r * 0.72} ${r * 0.72}L${r * 1.5} ${r * 1.5}`} stroke={INK} strokeWidth="9" strokeLinecap="round" />
  </g>
);
