import { useState } from "react";
import type { ChargePlan } from "../lib/api";

type Moves = ChargePlan["connect"];

/** Where the hand is, in the picture. */
const AT: Record<Moves[number]["place"], [number, number]> = {
  wall: [34, 40],
  switch: [150, 34],
  plus: [92, 112],
  minus: [224, 112],
  body: [286, 168],
};

/** How a charger is connected to this battery, in order, and taken off again: drawn, and in words. */
export function Clamps({ connect, disconnect }: { connect: Moves; disconnect: Moves }) {
  const [off, setOff] = useState(false);
  const moves = off ? disconnect : connect;
  const body = connect.some((m) => m.place === "body");
  const sides = new Map(connect.map((m) => [m.place, m.side]));
  const earthed = (["plus", "minus"] as const).find((p) => sides.get(p) === "earthed");
  // Two moves at one place stand beside each other.
  const marks = moves.map((m, i) => {
    const before = moves.slice(0, i).filter((o) => o.place === m.place).length;
    const [x, y] = AT[m.place];
    return { n: i + 1, x: x + 26 * before, y };
  });
  return (
    <section aria-label={off ? "Taking it off, in order" : "Connecting it, in order"}>
      <div className="flex items-center justify-between">
        <p className="cap">{off ? "Off, in order" : "On, in order"}</p>
        <button className="btn btn-quiet py-1!" onClick={() => setOff(!off)}>
          {off ? "Connecting" : "Taking it off"}
        </button>
      </div>
      <svg viewBox="0 0 320 190" className="block w-full max-w-[330px]" aria-hidden>
        <g fill="none" stroke="var(--ink)" strokeWidth="2">
          <rect x="12" y="22" width="30" height="36" rx="3" fill="var(--card)" />
          <circle cx="22" cy="40" r="2.4" fill="var(--ink)" />
          <circle cx="32" cy="40" r="2.4" fill="var(--ink)" />
          <path d="M42 40H104" />
          <rect x="104" y="14" width="112" height="40" rx="3" fill="var(--card)" />
          <path d="M132 54C128 84 92 70 82 98" stroke="var(--copper)" strokeWidth="3.4" />
          <path d={body ? "M188 54C196 110 262 96 274 150" : "M188 54C194 84 228 70 238 98"} strokeWidth="3.4" />
          <path d="M56 118h208v56H56z" fill="var(--card)" />
          <rect x="70" y="104" width="26" height="14" rx="3" fill="var(--card)" />
          <rect x="224" y="104" width="26" height="14" rx="3" fill="var(--card)" />
          {body && <path d="M250 184h66M258 184l-6 6M274 184l-6 6M290 184l-6 6M306 184l-6 6" strokeWidth="1.6" />}
          {earthed && (
            <path
              d={`M${earthed === "plus" ? 60 : 260} 132h12M${earthed === "plus" ? 62 : 262} 137h8M${earthed === "plus" ? 64 : 264} 142h4`}
              strokeWidth="1.8"
            />
          )}
        </g>
        <text x="83" y="158" textAnchor="middle" fontSize="26" fontWeight="700" fill="var(--copper)">
          +
        </text>
        <text x="237" y="156" textAnchor="middle" fontSize="26" fontWeight="700" fill="var(--ink)">
          −
        </text>
        {(["plus", "minus"] as const).map((post) => (
          <text
            key={post}
            x={post === "plus" ? 104 : 216}
            y="155"
            textAnchor={post === "plus" ? "start" : "end"}
            fontSize="13"
            fill="var(--soft)"
          >
            {sides.get(post)}
          </text>
        ))}
        {marks.map((m) => (
          <g key={m.n}>
            <circle cx={m.x} cy={m.y} r="12.5" fill="var(--copper)" />
            <text x={m.x} y={m.y + 5} textAnchor="middle" fontSize="15" fontWeight="760" fill="var(--card)">
              {m.n}
            </text>
          </g>
        ))}
      </svg>
      <ol className="mt-1 grid gap-1">
        {moves.map((m, i) => (
          <li key={i} className="grid grid-cols-[24px_1fr] text-[15px] leading-snug">
            <b className="font-[760] text-copper">{i + 1}</b>
            {m.do}
          </li>
        ))}
      </ol>
    </section>
  );
}
