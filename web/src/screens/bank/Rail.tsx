import { Link } from "react-router";
import type { ChargerView, HungView, WaitingView } from "../../lib/api";
import { atTime, otherDay, useNow } from "../../lib/time";
import { Sign, tone, type SignKind } from "../../parts/Sign";
import type { Place } from "./place";
import { kindWord } from "./words";

type Props = {
  chargers: ChargerView[];
  at: string | undefined;
  waiting: WaitingView[];
  open: (to: Place) => void;
};

/** The chargers along their rail, each with what hangs on it. */
export function Rail({ chargers, at, waiting, open }: Props) {
  if (chargers.length === 0) return null;
  return (
    <ul
      aria-label="Chargers"
      className="grid grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-y-2 px-1 pt-2 md:grid-cols-[repeat(auto-fill,minmax(190px,1fr))] md:px-3"
    >
      {chargers.map((c) => (
        <li key={c.id} className="relative" data-charger={c.id}>
          <span aria-hidden className="absolute inset-x-0 top-1.5 h-2.5 border-y-[1.5px] border-ink bg-paper" />
          <button
            aria-pressed={c.id === at}
            onClick={() => open({ charger: c.id })}
            className={`relative flex h-full w-full flex-col items-stretch justify-start rounded-sm px-2 pb-2 text-left outline-offset-[-3px] md:px-3 ${c.id === at ? "bg-card outline-2 outline-ink outline-solid" : "hover:bg-hush"}`}
          >
            <Hanging charger={c} next={waiting.find((w) => w.charger_id === c.id)} />
          </button>
        </li>
      ))}
    </ul>
  );
}

/** What a card says of its battery in a line. */
export function lineOf(h: HungView, now: number): { sign: SignKind; text: string } {
  if (h.level === "stop") return { sign: "stop", text: "Stopped: off before anything else" };
  const full = h.full_at ? Date.parse(h.full_at) : undefined;
  const wants = h.sign && h.sign !== "ok" && h.text;
  if (wants) return { sign: h.sign!, text: h.text! };
  if (h.check_at && Date.parse(h.check_at) <= now && !(full && full <= now))
    return { sign: "wait", text: `Look at it: due ${atTime(h.check_at)}` };
  if (full && full <= now) return { sign: "ok", text: `Full since ${otherDay(full)}${atTime(full)}` };
  if (full) return { sign: "ok", text: `Full ${otherDay(full)}${atTime(full)}` };
  return { sign: "note", text: h.soc_pct === undefined ? "Working it out …" : "Not full within ten days" };
}

function Hanging({ charger: c, next }: { charger: ChargerView; next: WaitingView | undefined }) {
  const now = useNow(20_000);
  const h = c.hung;
  const line = h && lineOf(h, now);
  const trouble = line && (line.sign === "stop" || line.sign === "act");
  const figure = h && (trouble || h.soc_pct === undefined ? h.volts : h.soc_pct);
  const unit = h && (trouble || h.soc_pct === undefined) ? "V" : "%";
  return (
    <>
      <svg viewBox="0 0 180 126" className="block w-full max-w-[190px] shrink-0" aria-hidden>
        <g fill="none" stroke="var(--ink)" strokeWidth="2">
          <path d="M36 26V8a5 5 0 0 1 9 0M134 26V8a5 5 0 0 1 9 0" />
          <rect x="10" y="26" width="160" height="32" rx="3" fill="var(--card)" />
          <path d={`M${plate(c.unit.name)} 26v32`} strokeWidth="1.2" />
          {h ? (
            <>
              <path d="M74 58c0 8-16 4-18 14" stroke="var(--copper)" strokeWidth="3" />
              <path d="M106 58c0 8 16 4 18 14" strokeWidth="3" />
              <path d="M51 72h10l2 8H49zM119 72h10l2 8h-14z" fill="var(--ink)" stroke="none" />
              <path d="M51 72h10l2 8H49z" fill="var(--copper)" stroke="none" />
              <path d="M30 82h120v40H30z" fill="var(--card)" stroke={trouble ? `var(--oxide)` : "var(--ink)"} />
            </>
          ) : (
            <>
              <path d="M74 58c0 8-6 6-8 14" stroke="var(--copper)" strokeWidth="3" />
              <path d="M106 58c0 8 6 6 8 14" strokeWidth="3" />
              <path d="M30 86h120v36H30z" strokeDasharray="6 4" stroke={next ? "var(--copper)" : "var(--line)"} />
            </>
          )}
        </g>
        <text x="21" y="48" fontSize={c.unit.name.length > 2 ? 13 : 20} fontWeight="760" fill="var(--ink)">
          {c.unit.name.length > 6 ? c.unit.name.slice(0, 5) + "…" : c.unit.name}
        </text>
        <text x={plate(c.unit.name) + 10} y="47" fontSize="14.5" fill="var(--ink)" style={{ fontStretch: "84%" }}>
          {kindWord[c.unit.kind]} <tspan fontWeight="700">{c.unit.amps} A</tspan>
        </text>
        {h ? (
          <text
            x="90"
            y="113"
            textAnchor="middle"
            fontSize="28"
            fontWeight="780"
            fill={trouble ? "var(--oxide)" : "var(--ink)"}
          >
            {figure ?? "…"}
            {figure !== undefined && (
              <tspan fontSize="15" fontWeight="500" dx="3" fill={trouble ? "var(--oxide)" : "var(--soft)"}>
                {unit}
              </tspan>
            )}
          </text>
        ) : (
          <text
            x="90"
            y="109"
            textAnchor="middle"
            fontSize="15"
            fontWeight="640"
            fill={next ? "var(--copper)" : "var(--soft)"}
          >
            {next ? next.tag.slice(0, 14) : "free"}
          </text>
        )}
      </svg>
      {h && <Wetted low={h.soc_low_pct} best={h.soc_pct} high={h.soc_high_pct} stop={!!trouble} />}
      <span className="mt-1 flex min-w-0 flex-wrap items-baseline gap-x-1.5">
        <b className="tight min-w-0 truncate text-[18px] font-[760]">{h ? h.tag : "free"}</b>
        <span className="min-w-0 truncate text-[14.5px] text-soft">{h ? h.vehicle : c.unit.where}</span>
      </span>
      {line && (
        <span className="mt-0.5 flex items-start gap-1.5 text-[14px] leading-tight font-[600]">
          <span className="mt-px">
            <Sign kind={line.sign} bare />
          </span>
          <span className={`line-clamp-2 ${tone[line.sign]}`}>{line.text}</span>
        </span>
      )}
      {!h && next && <span className="block text-[14px] leading-tight text-soft">next: {next.vehicle}</span>}
    </>
  );
}

const plate = (name: string) => (name.length > 2 ? 72 : 48);

/** The dipstick of a charge, small: wet as far as it is full, hatched as far as that is not known. */
function Wetted(props: { low: number | undefined; best: number | undefined; high: number | undefined; stop: boolean }) {
  const x = (pct: number) => 12 + 160 * (pct / 100);
  const { low, best, high } = props;
  return (
    <svg viewBox="0 0 180 12" className="mt-1 block w-full max-w-[190px] shrink-0" aria-hidden>
      <circle cx="6" cy="6" r="4.6" fill="none" stroke="var(--ink)" strokeWidth="1.8" />
      <path d="M12 1.5H166L174 10.5H12Z" fill="var(--card)" stroke="var(--ink)" strokeWidth="1.4" />
      {best !== undefined && !props.stop && (
        <>
          <path d={`M12 1.5H${x(low ?? best)}V10.5H12Z`} fill="var(--wet)" />
          <path
            d={Array.from({ length: Math.max(1, Math.round((x(high ?? best) - x(low ?? best)) / 4)) }, (_, i) => {
              const at = x(low ?? best) + 4 * i;
              return `M${at} 10.5l4 -9`;
            }).join("")}
            stroke="var(--wet)"
            strokeWidth="1.3"
          />
        </>
      )}
    </svg>
  );
}

/** What is on charge but on none of these chargers. */
export function Elsewhere({ hung }: { hung: HungView[] }) {
  const now = useNow(20_000);
  return (
    <section className="mt-4" aria-label="On charge elsewhere">
      <p className="cap">On charge elsewhere</p>
      <ul>
        {hung.map((h) => {
          const line = lineOf(h, now);
          return (
            <li key={h.job_id} className="border-t border-line">
              <Link to={`/jobs/${h.job_id}?at=charge`} className="block min-h-12 py-2 hover:bg-hush">
                <b className="font-[720]">{h.tag}</b> <span className="text-soft">{h.vehicle}</span>
                <span className="flex items-center gap-1.5 text-[14px]">
                  <Sign kind={line.sign} bare /> {h.charger ? `“${h.charger}”: ` : ""}
                  {line.text}
                </span>
              </Link>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
