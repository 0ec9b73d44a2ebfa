import { useState } from "react";
import type { Side, StationView } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";
import { Sign } from "../../parts/Sign";
import { Bay, type Place } from "./Bay";
import type { Entry } from "./useEntry";

/** What can be found at each place of the picture, by the codes of the format; the words are the server's. */
const PLACES: Place[] = [
  { code: "case", word: "case", finds: ["case_bulged", "case_cracked", "leaking", "frozen"] },
  { code: "lid", word: "lid", finds: ["wet_lid", "rotten_egg_smell"] },
  { code: "caps", word: "caps, vents", finds: ["wet_vents", "plates_dry"] },
  {
    code: "live",
    word: "live clamp",
    finds: ["corrosion_live", "film_live", "loose_clamp", "clamp_not_seated", "clamp_eaten"],
  },
  { code: "cable", word: "cables", finds: ["strands_green", "cable_frayed"] },
  {
    code: "earth",
    word: "earthed clamp",
    finds: ["corrosion_earth", "film_earth", "loose_clamp", "clamp_not_seated", "clamp_eaten"],
  },
  { code: "strap", word: "earth strap", finds: ["earth_strap_bad"] },
  { code: "hold", word: "hold-down", finds: ["loose_hold_down"] },
  { code: "tray", word: "tray", finds: ["tray_acid"] },
  { code: "vent", word: "vent tube", finds: ["vent_tube_off"] },
  { code: "cover", word: "cover", finds: ["cover_missing"] },
  { code: "belt", word: "belt", finds: ["belt_slack"] },
];

/** Places at the right of the picture: what can be found there opens at the left. */
const RIGHT = ["earth", "strap", "vent", "belt"];

/** What was found, drawn on the battery; a tap on it looks again. */
export function Looked(props: {
  station: StationView;
  plus: Side;
  minus: Side;
  found: string[];
  onAgain: (() => void) | undefined;
}) {
  const field = props.station.kinds[0]!.fields.find((f) => f.name === "found")!;
  return (
    <div className="mt-3 max-w-[640px]">
      <Bay
        places={PLACES}
        found={props.found}
        words={new Map(field.choices?.map((c) => [c.code, c.word]))}
        plus={props.plus}
        minus={props.minus}
        open={undefined}
        onOpen={props.onAgain}
        narrow={useNarrow()}
      />
    </div>
  );
}

type Props = { station: StationView; plus: Side; minus: Side; entry: Entry };

/**
 * The battery and what stands about it, to tap on: what is marked is drawn. The
 * question of every job stands over it; the rest is fine in one tap.
 */
export function Look({ station, plus, minus, entry }: Props) {
  const [open, setOpen] = useState<string>();
  const narrow = useNarrow();
  const kind = station.kinds[0]!;
  const field = kind.fields.find((f) => f.name === "found")!;
  const asked = kind.fields.find((f) => f.name === "checked")!;
  const words = new Map(field.choices?.map((c) => [c.code, c.word]));
  const found = (entry.values.found ?? "").split(" ").filter((c) => c && c !== "clean");
  const checked = (entry.values.checked ?? "").split(" ").filter(Boolean);
  const parts = asked.choices ?? [];
  const denied = (part: string, by: string[]) =>
    parts.find((c) => c.code === part)?.against?.some((f) => by.includes(f));
  const set = (next: string[], fine = checked) => {
    const yes = fine.filter((part) => !denied(part, next));
    const nothing = yes.length === parts.length ? "clean" : "";
    entry.change({ found: next.length ? next.join(" ") : nothing, checked: yes.join(" ") });
  };
  const toggle = (code: string) => set(found.includes(code) ? found.filter((c) => c !== code) : [...found, code]);
  const all = parts.map((c) => c.code);
  const place = PLACES.find((p) => p.code === open);
  const safe = all.every((part) => checked.includes(part));
  return (
    <div className="grid grid-cols-1 gap-3">
      <div className="grid grid-cols-[1fr_auto] items-center gap-x-4 gap-y-2 max-md:grid-cols-1">
        <button
          data-first
          className={`flex min-h-[54px] items-center gap-3 rounded-sm border-[1.5px] px-3 text-left ${safe ? "border-ink bg-card" : "border-copper bg-copper text-paper"}`}
          onClick={() => set(found, safe ? [] : all)}
          aria-pressed={safe}
        >
          <span className={safe ? "" : "[&_svg]:text-paper"}>
            <Sign kind={safe ? "ok" : "wait"} bare />
          </span>
          <span>
            <b
              className="block text-[16px] leading-tight font-[740] md:whitespace-nowrap"
              style={{ fontStretch: "80%" }}
            >
              Whole, dry, not frozen, no smell?
            </b>
            <span className="text-[14px]">{safe ? "Yes, safe to work on." : "Tap for yes to all four."}</span>
          </span>
        </button>
        <div
          className="grid grid-cols-4 overflow-hidden rounded-[5px] border-[1.5px] border-ink bg-card"
          role="group"
          aria-label={asked.label}
        >
          {parts.map((c, i) => {
            const no = denied(c.code, found);
            const yes = checked.includes(c.code);
            return (
              <button
                key={c.code}
                className={`min-h-[52px] px-2 py-1 text-left ${i ? "border-l border-line" : ""}`}
                aria-pressed={yes}
                onClick={() => set(found, yes ? checked.filter((x) => x !== c.code) : [...checked, c.code])}
                disabled={no}
              >
                <span className="cap block">{c.word}</span>
                <span
                  className={`flex items-center gap-1.5 font-[640] ${no ? "text-oxide" : yes ? "text-verdigris" : "text-soft"}`}
                >
                  {no ? (
                    <Sign kind="stop" size={12} bare />
                  ) : yes ? (
                    <Sign kind="ok" size={12} bare />
                  ) : (
                    <Sign kind="wait" size={12} bare />
                  )}
                  {no ? "no" : yes ? "yes" : "?"}
                </span>
              </button>
            );
          })}
        </div>
      </div>
      <div className="relative">
        <Bay
          places={PLACES}
          found={found}
          words={words}
          plus={plus}
          minus={minus}
          open={open}
          onOpen={(code) => setOpen(code === open ? undefined : code)}
          narrow={narrow}
        />
        {narrow && !place && (
          <div className="mt-2 grid grid-cols-3 gap-2">
            {PLACES.map((p, i) => {
              const marked = p.finds.filter((f) => found.includes(f)).length;
              return (
                <button
                  key={p.code}
                  className={`flex min-h-12 items-center gap-1.5 rounded-sm border-[1.5px] bg-card px-2 text-left text-[14.5px] leading-tight font-[560] ${marked ? "border-copper text-copper" : "border-line"}`}
                  onClick={() => setOpen(p.code)}
                >
                  <b className={`font-[740] ${marked ? "" : "text-soft"}`}>{i + 1}</b> {p.word}
                </button>
              );
            })}
          </div>
        )}
        {place && (
          <div
            className={`grid grid-cols-2 content-start gap-2 border-[1.5px] border-ink bg-card p-3 shadow-xl max-md:mt-2 md:absolute md:top-0 md:w-[250px] md:grid-cols-1 ${RIGHT.includes(place.code) ? "md:left-0" : "md:right-0"}`}
            role="group"
            aria-label={`What is found: ${place.word}`}
          >
            <p className="col-span-full flex items-center justify-between">
              <b className="text-[19px] font-[740]" style={{ fontStretch: "90%" }}>
                {place.word}
              </b>
              <button className="min-h-11 min-w-11 text-[14px] underline" onClick={() => setOpen(undefined)}>
                Done
              </button>
            </p>
            {place.finds.map((code) => (
              <button
                key={code}
                aria-pressed={found.includes(code)}
                className={`min-h-12 rounded-sm border-[1.5px] px-3 text-left text-[15px] leading-tight font-[560] ${found.includes(code) ? "border-ink bg-ink text-paper" : "border-line bg-card"}`}
                onClick={() => toggle(code)}
              >
                {words.get(code)}
              </button>
            ))}
          </div>
        )}
      </div>
      <p className="text-[14px] text-soft" role="status">
        {found.length > 0
          ? `${found.length} marked: ${found.map((f) => words.get(f)).join(", ")}`
          : "Tap what you see. What you mark is drawn."}
      </p>
    </div>
  );
}
