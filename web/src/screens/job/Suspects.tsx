import { useState } from "react";
import type { Judgement } from "../../lib/api";
import { keep } from "../../lib/units";

type Suspect = Judgement["suspects"][number];

/** How many are shown before the rest is folded. */
const FIRST = 3;

/** The faults that are still possible: how likely each, and what speaks for and against it. */
export function Suspects({ shown }: { shown: Judgement }) {
  const [open, setOpen] = useState<string | undefined>(undefined);
  const [all, setAll] = useState(false);
  const { suspects } = shown;
  // A hazard stands above what is likely: nothing is measured until it is dealt with.
  if (suspects.length === 0 || shown.stopped) return null;
  const told = all ? suspects : suspects.slice(0, FIRST);
  const first = open ?? suspects[0]!.fault;
  return (
    <section aria-label="Suspects" className="mt-4">
      <div className="flex items-baseline justify-between">
        <p className="cap">Suspects</p>
        <p className="text-[13px] text-soft">two can be there at once</p>
      </div>
      <ul>
        {told.map((s) => (
          <li key={s.fault} className="border-t border-line">
            <One suspect={s} open={s.fault === first} onOpen={() => setOpen(s.fault === first ? "" : s.fault)} />
          </li>
        ))}
      </ul>
      {suspects.length > FIRST && (
        <button
          className="flex min-h-12 w-full items-center justify-between border-t border-line text-left text-[14.5px] text-soft hover:bg-hush"
          aria-expanded={all}
          onClick={() => setAll(!all)}
        >
          {all ? "Fewer" : `${suspects.length - FIRST} less likely`}
          <span aria-hidden className={all ? "rotate-90" : ""}>
            ›
          </span>
        </button>
      )}
    </section>
  );
}

const percent = (p: number) => Math.max(1, Math.min(99, Math.round(100 * p)));

function One({ suspect: s, open, onOpen }: { suspect: Suspect; open: boolean; onOpen: () => void }) {
  return (
    <>
      <button
        aria-expanded={open}
        onClick={onOpen}
        className="grid min-h-12 w-full grid-cols-[1fr_84px_52px] items-center gap-2.5 text-left hover:bg-hush"
      >
        <span className={open ? "text-[17px] leading-tight font-[720]" : "text-[15px] font-[560]"}>{s.name}</span>
        <Bar part={s.present} />
        <span className="text-right leading-none">
          <span className={`font-[720] ${open ? "text-[20px]" : "text-[16px]"}`}>{percent(s.present)}</span>
          <small className="ml-0.5 text-[12px] text-soft">%</small>
        </span>
      </button>
      {open && (
        <div className="pb-3">
          <p className="text-[14px] leading-snug text-soft">
            <b className="font-[640] text-ink">{capital(s.word)}.</b> {s.moves}
          </p>
          {s.reasons.length > 0 && <Reasons reasons={s.reasons} />}
        </div>
      )}
    </>
  );
}

const capital = (word: string) => word.slice(0, 1).toUpperCase() + word.slice(1);

/** A likelihood as a stick: wetted as far as it goes. */
function Bar({ part }: { part: number }) {
  return (
    <svg viewBox="0 0 84 10" width="84" height="10" aria-hidden className="text-ink">
      <path d="M.75.75H80L83.25 9.25H.75Z" fill="none" stroke="currentColor" strokeWidth="1.2" />
      <rect x="1.5" y="1.5" width={Math.max(0.5, 78 * part)} height="7" fill="currentColor" />
    </svg>
  );
}

/** Past so many doublings a bar is full: nobody reads more. */
const FULL = 5;

/** What speaks against stands left of the line, what speaks for it right, as long as it weighs. */
function Reasons({ reasons }: { reasons: Suspect["reasons"] }) {
  return (
    <div className="mt-2">
      <div aria-hidden className="grid grid-cols-[1fr_112px] gap-2.5 text-[12px] text-soft">
        <span />
        <span className="flex justify-between">
          <span>against</span>
          <span>for</span>
        </span>
      </div>
      <ul>
        {reasons.map((r) => (
          <li key={r.text} className="grid grid-cols-[1fr_112px] items-stretch gap-2.5 text-[14px] leading-snug">
            <span className="py-1">
              <span className="sr-only">{r.weight > 0 ? "For: " : "Against: "}</span>
              {keep(r.text)}
            </span>
            <Weight weight={r.weight} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function Weight({ weight }: { weight: number }) {
  const long = Math.max(3, 50 * Math.min(1, Math.abs(weight) / FULL));
  return (
    <span aria-hidden className="relative block h-full min-h-6">
      <span className="absolute inset-y-0 left-1/2 border-l-[1.4px] border-ink" />
      <span
        className={`absolute top-1/2 h-2.5 -translate-y-1/2 ${weight > 0 ? "left-1/2 bg-ink" : "right-1/2 border-[1.4px] border-ink"}`}
        style={{ width: `${long}%` }}
      />
    </span>
  );
}
