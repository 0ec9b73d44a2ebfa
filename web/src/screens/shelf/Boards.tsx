import type { StockLine } from "../../lib/api";
import { Sign } from "../../parts/Sign";

const usual = [242, 175, 190];

/** One battery as it stands there: as long and high as it is, wetted as far as it is charged. */
function Standing({ one }: { one: StockLine }) {
  const [long = 242, , high = 190] = one.size_mm ?? usual;
  const w = Math.max(74, Math.min(168, long * 0.44));
  const h = Math.max(54, Math.min(112, high * 0.46));
  const wet = one.soc_pct === undefined ? undefined : Math.max(0, Math.min(1, one.soc_pct / 100));
  const left = one.positive === "left";
  const y = 118 - h;
  return (
    <svg width={w + 8} height="120" viewBox={`0 0 ${w + 8} 120`} aria-hidden className="block">
      <path d={`M4 ${y + 8}H${w + 4}V118H4Z`} fill="var(--card)" stroke="var(--ink)" strokeWidth="2" />
      {wet === undefined ? (
        <path d={`M4 ${y + 26}H${w + 4}`} stroke="var(--line)" strokeWidth="2" strokeDasharray="5 4" />
      ) : (
        <path
          d={`M6 ${118 - (h - 28) * wet}H${w + 2}V117H6Z`}
          fill={one.charge_first ? "var(--copper)" : "var(--verdigris)"}
          fillOpacity="0.24"
        />
      )}
      <path
        d={`M4 ${y + 8}L10 ${y}H${w - 2}L${w + 4} ${y + 8}Z`}
        fill="var(--hush)"
        stroke="var(--ink)"
        strokeWidth="2"
      />
      <path d={`M16 ${y}v-7h12v7M${w - 20} ${y}v-7h12v7`} fill="var(--hush)" stroke="var(--ink)" strokeWidth="2" />
      {one.positive && (
        <g fontSize="15" fontWeight="720" textAnchor="middle">
          <text x={left ? 22 : w - 14} y={y + 24} fill="var(--copper)">
            +
          </text>
          <text x={left ? w - 14 : 22} y={y + 24} fill="var(--soft)">
            −
          </text>
        </g>
      )}
      <text x={w / 2 + 4} y={y + (h + 34) / 2} fontSize="19" fontWeight="780" textAnchor="middle" fill="var(--ink)">
        {one.item.tag.length > 7 ? one.item.tag.slice(0, 6) + "…" : one.item.tag}
      </text>
    </svg>
  );
}

export const stateOf = (one: StockLine) =>
  one.test_first ? "test it first" : one.charge_first ? "charge it first" : "ready";

/** The shelf as it stands: sizes against each other, how full, which way round, what wants hands. */
export function Boards({
  shelf,
  picked,
  onPick,
}: {
  shelf: StockLine[];
  picked: string | undefined;
  onPick: (tag: string) => void;
}) {
  return (
    <ul className="flex flex-wrap items-end gap-y-4 pt-4" aria-label="On the shelf">
      {shelf.map((s) => (
        <li key={s.item.tag} className="border-b-[5px] border-ink">
          <button
            className={`flex flex-col items-center rounded-t-sm px-1.5 pt-1.5 hover:bg-hush ${picked === s.item.tag ? "bg-card outline-2 -outline-offset-2 outline-copper" : ""}`}
            aria-pressed={picked === s.item.tag}
            onClick={() => onPick(s.item.tag)}
          >
            <span className="sr-only">{s.item.tag},</span>
            <Standing one={s} />
            <span className="tight flex min-h-7 items-center gap-1.5 text-[13px] font-[640]">
              <Sign kind={stateOf(s) === "ready" ? "ok" : "act"} bare size={12} />
              {stateOf(s)}
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
