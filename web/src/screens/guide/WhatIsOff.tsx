import type { Part } from "../../lib/api";

const edge = {
  fill: "var(--card)",
  stroke: "currentColor",
  strokeWidth: 2.4,
  strokeLinejoin: "round",
  strokeLinecap: "round",
} as const;

/** Each part as it lies there. */
const drawn: Record<string, React.ReactNode> = {
  panel: <path d="M8 30 16 8H48L56 30Z" {...edge} />,
  cover: <path d="M14 30V20a18 16 0 0 1 36 0V30ZM25 19h14M32 13v12" {...edge} />,
  earthed: <path d="M6 18h24M30 10h16v16H30ZM46 14h10v8H46Z" {...edge} />,
  live: <path d="M6 18h24M30 10h16v16H30ZM46 14h10v8H46ZM34 18h8M38 14v8" {...edge} />,
  link: <path d="M10 12h8v14h-8ZM46 12h8v14h-8ZM18 19C28 8 36 8 46 19" {...edge} />,
  washers: (
    <path
      d="M12 19a10 6 0 1 0 20 0a10 6 0 1 0-20 0M34 19a10 6 0 1 0 20 0a10 6 0 1 0-20 0M19 19a3 2 0 1 0 6 0a3 2 0 1 0-6 0M41 19a3 2 0 1 0 6 0a3 2 0 1 0-6 0"
      {...edge}
    />
  ),
  hold_down: <path d="M6 14H58V22H6ZM12 22v10M52 22v10" {...edge} />,
  strap: <path d="M8 12C24 4 40 4 56 12V20C40 12 24 12 8 20ZM8 20v10M56 20v10" {...edge} />,
  sleeve: <path d="M12 6H52V32H12ZM20 6V32M28 6V32M36 6V32M44 6V32" {...edge} />,
  vent_tube: (
    <path
      d="M6 28C18 4 26 34 38 16S52 10 58 12"
      fill="none"
      stroke="currentColor"
      strokeWidth="5"
      strokeLinecap="round"
    />
  ),
  elbow: <path d="M20 32V20a10 10 0 0 1 10-10H46V20H34a4 4 0 0 0-4 4v8ZM46 6v18" {...edge} />,
  plug: <path d="M14 10h12v18H14ZM26 14h24v10H26Z" {...edge} />,
  sensor: <path d="M14 12H50V30H14ZM24 12V6h16v6" {...edge} />,
  module: <path d="M8 12H56V28H8ZM16 28v5M24 28v5M32 28v5M40 28v5M48 28v5" {...edge} />,
  battery: <path d="M10 12H54V32H10ZM16 12V6h8v6M40 12V6h8v6M18 22h8M38 22h8M42 18v8" {...edge} />,
  caps: <path d="M6 24a7 5 0 0 1 14 0v6H6ZM25 24a7 5 0 0 1 14 0v6H25ZM44 24a7 5 0 0 1 14 0v6H44Z" {...edge} />,
  keep_alive: <path d="M6 8H38V30H6ZM38 19C46 19 44 28 58 28M22 19m-5 0a5 5 0 1 0 10 0a5 5 0 1 0-10 0" {...edge} />,
  hood: <path d="M14 30V18a18 14 0 0 1 36 0V30Z" {...edge} />,
};

/** What is off the vehicle, or on it as an aid: it lies here until it is put back. */
export function WhatIsOff({
  open,
  coming,
  vehicle,
  onBack,
}: {
  open: Part[];
  /** What the step in view takes off. */
  coming: Part[];
  vehicle: string;
  onBack?: ((part: Part) => void) | undefined;
}) {
  const more = coming.filter((c) => !open.some((o) => o.code === c.code));
  return (
    <section aria-label="What is off" className="min-w-0">
      <div className="flex items-end gap-3 wide:block">
        <p className="flex shrink-0 items-center gap-1.5 pb-2.5">
          <b className="text-[38px] leading-none font-[780]" data-testid="off">
            {open.length}
          </b>
          <span className="text-[13px] leading-tight">
            <b className="block font-[660]">off</b>
            <span className="block max-w-[96px] truncate text-soft">{vehicle}</span>
          </span>
        </p>
        <ul className="flex min-w-0 flex-1 gap-1 overflow-x-auto pb-1 wide:flex-wrap">
          {open.length + more.length === 0 && (
            <li className="self-center pb-2.5 text-[14px] text-soft">Everything is on.</li>
          )}
          {open.map((p) => (
            <li key={p.code} className={`shrink-0 text-center ${p.aid ? "text-verdigris" : "text-ink"}`}>
              <Item part={p} {...(onBack ? { onPress: () => onBack(p) } : {})} />
            </li>
          ))}
          {more.map((p) => (
            <li key={p.code} className="shrink-0 border-[1.5px] border-dashed border-copper text-center text-copper">
              <Item part={p} />
            </li>
          ))}
        </ul>
      </div>
      <svg viewBox="0 0 358 12" className="block h-2.5 w-full" preserveAspectRatio="none" aria-hidden>
        <path d="M0 2H358" stroke="var(--ink)" strokeWidth="4" />
        <path d="M8 4V12H14M350 4V12H344" stroke="var(--ink)" strokeWidth="2" fill="none" />
      </svg>
    </section>
  );
}

function Item({ part, onPress }: { part: Part; onPress?: () => void }) {
  const inside = (
    <>
      <svg viewBox="0 0 64 38" width="58" height="34" className="mx-auto block" aria-hidden>
        {drawn[part.code]}
      </svg>
      <span className="tight block px-1 text-[13px] leading-tight font-[640] whitespace-nowrap">{part.word}</span>
    </>
  );
  if (!onPress) return <div className="min-w-[62px] py-1">{inside}</div>;
  return (
    <button
      className="min-h-14 min-w-[62px] rounded-sm py-1 hover:bg-hush"
      onClick={onPress}
      aria-label={`${part.word}: put back by hand`}
    >
      {inside}
    </button>
  );
}
