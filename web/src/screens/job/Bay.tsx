import type { Side } from "../../lib/api";

export type Place = { code: string; word: string; finds: string[] };

type Props = {
  places: Place[];
  found: string[];
  words: Map<string, string>;
  plus: Side;
  minus: Side;
  open: string | undefined;
  onOpen: ((code: string) => void) | undefined;
  /** On a phone the places are named beside the picture, which has their numbers alone. */
  narrow: boolean;
};

/** Where each place has its mark, and the shape that is its touch target. */
const AT: Record<string, { x: number; y: number; to?: [number, number]; area: string }> = {
  case: { x: 250, y: 262, area: "M118 188H452V330H118Z" },
  lid: { x: 330, y: 168, area: "M262 128H392V186H262Z" },
  caps: { x: 262, y: 92, to: [285, 124], area: "M214 100H356V128H214Z" },
  live: { x: 96, y: 60, to: [146, 100], area: "M118 74H212V128H118Z" },
  earth: { x: 470, y: 60, to: [424, 100], area: "M358 74H452V128H358Z" },
  cable: { x: 40, y: 186, to: [72, 168], area: "M20 130H110V250H20Z" },
  strap: { x: 560, y: 330, to: [524, 316], area: "M486 250H566V330H486Z" },
  hold: { x: 150, y: 222, to: [112, 206], area: "M92 200H140V340H92Z" },
  tray: { x: 250, y: 366, area: "M96 338H474V382H96Z" },
  vent: { x: 516, y: 250, to: [481, 262], area: "M452 140H498V240H452Z" },
  cover: { x: 210, y: 40, to: [184, 66], area: "M150 28H230V72H150Z" },
  belt: { x: 588, y: 108, to: [572, 128], area: "M520 60H620V190H520Z" },
};

/** A mark at the middle of a place that is named at its own centre otherwise. */
const LABEL: Record<string, "below" | "right" | "left"> = {
  case: "below",
  lid: "below",
  caps: "right",
  live: "left",
  earth: "right",
  cable: "below",
  strap: "below",
  hold: "right",
  tray: "right",
  vent: "right",
  cover: "right",
  belt: "below",
};

/**
 * The battery in its place, drawn; every part is a target of its own, and what is
 * found there is drawn on it. The live side is where the vehicle has it.
 */
export function Bay({ places, found, words, plus, minus, open, onOpen, narrow }: Props) {
  // The picture has the live post at the left; a battery earthed at its positive post is the same seen in a mirror.
  const live = plus.role === "live" ? plus : minus;
  const earthed = plus.role === "live" ? minus : plus;
  const has = (...codes: string[]) => codes.some((c) => found.includes(c));
  const red = (side: Side) => (side.lead === "red" ? "var(--copper)" : "var(--wet)");
  return (
    <svg
      viewBox="0 0 640 400"
      className="block w-full overflow-visible"
      role="group"
      aria-label="The battery and what stands about it"
    >
      <g stroke="var(--ink)" strokeWidth="2" strokeLinejoin="round" strokeLinecap="round">
        {/* body and tray */}
        <path d="M14 384H626" stroke="var(--line)" strokeWidth="5" />
        <path
          d="M96 342H474L462 378H108Z"
          fill={has("tray_acid") ? "color-mix(in oklab, var(--verdigris) 30%, var(--card))" : "var(--hush)"}
        />
        {/* case */}
        <path
          d={
            has("case_bulged") ? "M124 186C96 230 96 290 124 334H446C474 290 474 230 446 186Z" : "M122 186H448V336H122Z"
          }
          fill="var(--card)"
        />
        <path d="M188 200V322M256 200V322M314 200V322M382 200V322" stroke="var(--line)" fill="none" />
        {has("case_cracked") && (
          <path d="M226 196l14 34-16 22 20 30-10 34" fill="none" stroke="var(--oxide)" strokeWidth="3.4" />
        )}
        {has("leaking") && (
          <g fill="color-mix(in oklab, var(--verdigris) 35%, var(--card))" stroke="var(--verdigris)">
            <path d="M400 300c10 18 12 30 6 36h-14c-4-8 0-20 8-36Z" />
            <path d="M366 378c24-12 84-12 98 0Z" />
          </g>
        )}
        {has("frozen") && (
          <g stroke="var(--slate)" strokeWidth="2.4" fill="none">
            <path d="M160 250v44M141 261l38 22M141 283l38-22M342 222v36M326 231l32 18M326 249l32-18" />
          </g>
        )}
        {/* lid */}
        <path
          d="M114 128H456V186H114Z"
          fill={has("wet_lid") ? "color-mix(in oklab, var(--slate) 26%, var(--card))" : "var(--paper)"}
        />
        {has("wet_lid") && (
          <path
            d="M262 164c26-16 84-14 104 0-14 16-84 18-104 0Z"
            fill="color-mix(in oklab, var(--slate) 40%, var(--card))"
            stroke="var(--slate)"
          />
        )}
        {[226, 250, 274, 298, 322, 346].map((x) => (
          <g key={x}>
            <circle cx={x} cy={140} r="9" fill={has("plates_dry") ? "var(--copper)" : "var(--card)"} />
            <path d={`M${x - 4} 140h8M${x} 136v8`} strokeWidth="1.4" />
            {has("wet_vents") && <circle cx={x} cy={155} r="3" fill="var(--slate)" stroke="none" />}
          </g>
        ))}
        {has("rotten_egg_smell") && (
          <path
            d="M270 84c-10-12 10-18 0-30M300 84c-10-12 10-18 0-30"
            fill="none"
            stroke="var(--copper)"
            strokeWidth="3"
          />
        )}
        {/* hold-down */}
        <g fill="none" strokeWidth={4} transform={has("loose_hold_down") ? "rotate(-5 118 300)" : undefined}>
          <path d="M106 346V196H150" />
          <path d="M98 196h18" strokeWidth="7" />
        </g>
        {/* clamps, live left and earthed right */}
        {[
          {
            side: live,
            x: 166,
            crust: has("corrosion_live"),
            film: has("film_live"),
            to: "M150 108C96 96 70 130 66 176S60 340 40 378",
          },
          {
            side: earthed,
            x: 404,
            crust: has("corrosion_earth"),
            film: has("film_earth"),
            to: "M420 108C468 96 486 150 486 214S492 330 500 376",
          },
        ].map(({ side, x, crust, film, to }) => (
          <g key={side.role}>
            <path d={to} fill="none" stroke="var(--ink)" strokeWidth="14" />
            <path d={to} fill="none" stroke={red(side)} strokeWidth="10" />
            <path d={`M${x - 24} 118h48v12h-48z`} fill="var(--hush)" />
            <path
              d={`M${x - 30} 98h60v20h-60z`}
              fill={film ? "var(--line)" : "var(--card)"}
              transform={
                has("loose_clamp") ? `rotate(7 ${x} 108)` : has("clamp_not_seated") ? "translate(0 -9)" : undefined
              }
            />
            <circle cx={x} cy={104} r={has("clamp_eaten") ? 8 : 12} fill="var(--hush)" />
            {crust && (
              <g
                fill="color-mix(in oklab, var(--verdigris) 40%, var(--card))"
                stroke="var(--verdigris)"
                strokeWidth="1.6"
              >
                {[-26, -14, -2, 10, 22].map((d, i) => (
                  <circle key={d} cx={x + d} cy={96 + (i % 2) * 14} r={8 - (i % 3)} />
                ))}
              </g>
            )}
            <text
              x={x}
              y={80}
              textAnchor="middle"
              fontSize="26"
              fontWeight="760"
              fill={side.post === "+" ? "var(--copper)" : "var(--ink)"}
              stroke="none"
            >
              {side.post}
            </text>
          </g>
        ))}
        {has("strands_green") && (
          <path d="M62 150l-8-12M68 150V134M74 152l9-11" stroke="var(--verdigris)" strokeWidth="3.4" />
        )}
        {has("cable_frayed") && (
          <path d="M56 232l-12 6M60 240l-10 9M64 250l-6 12" stroke="var(--copper)" strokeWidth="3" />
        )}
        {/* cover over the live post */}
        {has("cover_missing") ? (
          <path d="M142 58h48v18h-48z" fill="none" stroke="var(--copper)" strokeDasharray="5 4" />
        ) : (
          <path d="M142 62c0-18 48-18 48 0v8h-48z" fill="none" stroke="var(--soft)" strokeWidth="1.4" />
        )}
        {/* vent tube */}
        <path
          d={has("vent_tube_off") ? "M470 196c16 6 26 20 30 40" : "M456 158h14c8 0 10 8 10 16V330"}
          fill="none"
          stroke={has("vent_tube_off") ? "var(--copper)" : "var(--soft)"}
          strokeWidth="5"
        />
        {/* earth strap and engine */}
        <path
          d="M500 376C520 340 500 300 540 262"
          fill="none"
          strokeWidth="8"
          stroke={has("earth_strap_bad") ? "var(--copper)" : "var(--soft)"}
          strokeDasharray={has("earth_strap_bad") ? "3 7" : "9 2"}
        />
        <path d="M530 250h96v126h-96z" fill="none" stroke="var(--line)" />
        {/* belt */}
        <g fill="none" stroke="var(--soft)">
          <circle cx="560" cy="140" r="24" />
          <circle cx="606" cy="212" r="16" />
          <path
            d={
              has("belt_slack")
                ? "M534 106C560 130 566 160 584 178M580 80C590 110 612 130 617 164"
                : "M533 104L583 176M579 80L617 164"
            }
            stroke={has("belt_slack") ? "var(--copper)" : "var(--soft)"}
            strokeWidth="3"
          />
        </g>
      </g>
      {places.map((p, i) => {
        const at = AT[p.code]!;
        const marked = p.finds.filter((f) => found.includes(f));
        const on = open === p.code;
        const label = LABEL[p.code]!;
        const [dx, dy, anchor] =
          label === "right"
            ? [20, 5, "start" as const]
            : label === "left"
              ? [-20, 5, "end" as const]
              : [0, 31, "middle" as const];
        if (narrow)
          return (
            <g key={p.code} onClick={() => onOpen?.(p.code)} aria-hidden>
              <path d={at.area} fill="transparent" />
              <Mark x={at.x} y={at.y} n={i + 1} r={22} marked={marked.length > 0} on={on} />
            </g>
          );
        return (
          <g
            key={p.code}
            {...(onOpen ? { role: "button", tabIndex: 0, "aria-pressed": on } : {})}
            onClick={() => onOpen?.(p.code)}
            onKeyDown={(e) => {
              if (e.key === "Enter" || e.key === " ") {
                e.preventDefault();
                e.stopPropagation();
                onOpen?.(p.code);
              }
            }}
            className={`outline-none ${onOpen ? "cursor-pointer" : ""} [&:focus-visible>circle]:stroke-[5]`}
          >
            <path d={at.area} fill="transparent" />
            <circle cx={at.x} cy={at.y} r="27" fill="transparent" />
            {at.to && <path d={`M${at.x} ${at.y}L${at.to[0]} ${at.to[1]}`} stroke="var(--ink)" strokeWidth="1.4" />}
            <Mark x={at.x} y={at.y} n={i + 1} r={13} marked={marked.length > 0} on={on} />
            <text
              x={at.x + dx}
              y={at.y + dy}
              textAnchor={anchor}
              fontSize="15"
              fontWeight={marked.length ? 720 : 540}
              fill={marked.length ? "var(--copper)" : "var(--soft)"}
              stroke="var(--card)"
              strokeWidth="4"
              paintOrder="stroke"
            >
              {marked.length === 1 ? words.get(marked[0]!) : marked.length ? `${marked.length} found` : p.word}
            </text>
          </g>
        );
      })}
    </svg>
  );
}

/** A place's number in its ring; where something was found, in a diamond. */
function Mark({
  x,
  y,
  n,
  r,
  marked,
  on,
}: {
  x: number;
  y: number;
  n: number;
  r: number;
  marked: boolean;
  on: boolean;
}) {
  const colour = marked ? "var(--copper)" : "var(--ink)";
  const d = r * 1.33;
  return (
    <>
      {marked ? (
        <path
          d={`M${x} ${y - d}l${d} ${d}-${d} ${d}-${d}-${d}z`}
          fill={on ? "var(--copper)" : "var(--card)"}
          stroke="var(--copper)"
          strokeWidth={r / 7 + 0.4}
        />
      ) : (
        <circle
          cx={x}
          cy={y}
          r={r}
          fill={on ? "var(--ink)" : "var(--card)"}
          stroke="var(--ink)"
          strokeWidth={r / 9 + 0.2}
        />
      )}
      <text
        x={x}
        y={y + r * 0.4}
        textAnchor="middle"
        fontSize={r * 1.12}
        fontWeight="740"
        fill={on ? "var(--paper)" : colour}
      >
        {n}
      </text>
    </>
  );
}
