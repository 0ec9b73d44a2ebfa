import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState, type ReactNode } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, Refused, type Charging, type Reading } from "../../lib/api";
import { isDown } from "../../lib/line";
import { putOff } from "../../lib/outbox";
import { showSheet } from "../../lib/queries";
import { withdraw } from "../../lib/withdraw";
import { atTime } from "../../lib/time";
import { readNumber, showNumber } from "../../lib/units";
import { NumberEntry } from "../../parts/NumberEntry";
import { Sign } from "../../parts/Sign";

type Seen = { volts?: number; amps?: number; warmth?: string; gassing?: string };

/** How long a look that was saved can be put right by another tap, ms. */
const STANDS = 3 * 60_000;

const warmths = ["cold", "warm", "hot"];
const gassings = ["none", "some", "violent"];

/**
 * A look at a charging battery: a tap on its volts, a tap on its amps, and it is
 * saved. What is tapped after that puts the same look right.
 */
export function LookTaps({ job, tag, charge }: { job: string; tag: string; charge: Charging }) {
  const queries = useQueryClient();
  const last = charge.looks.at(-1);
  const [seen, setSeen] = useState<Seen>({});
  const [saved, setSaved] = useState<{ id: string; kept: boolean }>();
  // The look that the next tap puts right, also while it is on its way.
  const first = useRef<string>(undefined);
  // What was tapped so far, also by taps faster than the screen.
  const latest = useRef<Seen>({});
  const [picks, setPicks] = useState(charge.look);
  // What the forecast says moves on; under the fingers it stays, once something is tapped.
  if (Object.keys(seen).length === 0 && picks !== charge.look) setPicks(charge.look);
  const warmth = seen.warmth ?? (last?.warmth && last.warmth !== "hot" ? last.warmth : undefined);
  const save = useMutation({
    scope: { id: `look ${job}` }, // one after the other
    mutationFn: async ({ look, id }: { look: Seen; id: string }) => {
      const reading = {
        kind: "charge_check",
        ...look,
        ...((look.warmth ?? warmth) ? { warmth: look.warmth ?? warmth } : {}),
      } as Reading;
      const replaces = first.current ? { replaces: first.current } : {};
      const done = (kept: boolean) => {
        first.current = id;
        setSaved({ id, kept });
      };
      const later = () => {
        const text = `${look.volts} V, ${look.amps} A`;
        putOff({
          id,
          job,
          tag,
          kind: "charge_check",
          text,
          reading: { ...reading, at: new Date().toISOString() },
          ...replaces,
        });
        done(true);
      };
      if (isDown()) return later();
      try {
        const sheet = await got(
          api.POST("/api/jobs/{id}/readings", { params: { path: { id: job } }, body: { id, reading, ...replaces } }),
        );
        showSheet(queries, sheet);
        done(false);
      } catch (error) {
        if (error instanceof Refused && error.lost) return later();
        throw error;
      }
    },
  });
  const tap = (part: Seen) => {
    const look = { ...latest.current, ...part };
    latest.current = look;
    setSeen(look);
    if (look.volts !== undefined && look.amps !== undefined) save.mutate({ look, id: uuid() });
  };
  const again = useCallback(() => {
    first.current = undefined;
    latest.current = {};
    setSeen({});
    setSaved(undefined);
  }, []);
  useEffect(() => {
    if (!saved) return;
    // What is tapped half an hour later is another look, not a better one.
    const timer = setTimeout(again, STANDS);
    return () => clearTimeout(timer);
  }, [saved, again]);
  const undo = useMutation({
    mutationFn: () => withdraw(job, saved!.id),
    onSuccess: (sheet) => {
      showSheet(queries, sheet);
      again();
    },
  });
  return (
    <section aria-label="Look at it">
      <div className="flex items-baseline justify-between gap-2">
        <p className="cap">Look {charge.looks.length + (saved && !saved.kept ? 0 : 1)}</p>
        <p className="cap">{saved ? "tap to put it right" : "two taps, the second saves"}</p>
      </div>
      <Figure
        name="volts"
        unit="V"
        pick={picks.volts}
        value={seen.volts}
        onTap={(volts) => tap({ volts })}
        digits={picks.volts.picks.some((v) => !Number.isInteger(v)) ? 1 : 0}
      />
      <Figure
        name="amps"
        unit="A"
        pick={picks.amps}
        value={seen.amps}
        onTap={(amps) => tap({ amps })}
        digits={picks.amps.picks.some((v) => !Number.isInteger(v)) ? 1 : 0}
      />
      <div className="mt-2 flex min-h-12 items-center gap-2" role="status">
        {save.isPending ? (
          <p className="text-soft">Saving …</p>
        ) : save.error ? (
          <p role="alert" className="font-[560] text-oxide">
            Not saved. {save.error.message}
          </p>
        ) : saved ? (
          <>
            <p className="flex min-w-0 flex-1 items-start gap-2 leading-snug font-[640]">
              <span className="mt-[3px]">
                <Sign kind={saved.kept ? "wait" : charge.follows.sign} bare />
              </span>
              {saved.kept ? "Kept on this device. It is sent when the line is back." : `Saved. ${charge.follows.text}`}
            </p>
            {!saved.kept && (
              <button className="btn btn-line px-3!" disabled={undo.isPending} onClick={() => undo.mutate()}>
                Undo
              </button>
            )}
            <button className="btn btn-line px-3!" onClick={again}>
              Next look
            </button>
          </>
        ) : (
          <Link
            className="flex min-h-11 items-center text-soft underline underline-offset-4"
            to={`/jobs/${job}?at=charge`}
          >
            More: temperature, eye, level
          </Link>
        )}
      </div>
      <Row name={last?.warmth && !seen.warmth ? `To the hand, as at ${atTime(last.at)}` : "To the hand"}>
        {warmths.map((w) => (
          <Tap key={w} on={warmth === w} onTap={() => tap({ warmth: w })}>
            {w}
          </Tap>
        ))}
      </Row>
      <Row name="Gassing">
        {gassings.map((g) => (
          <Tap key={g} on={seen.gassing === g} onTap={() => tap({ gassing: g })}>
            {g}
          </Tap>
        ))}
      </Row>
    </section>
  );
}

function Row({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="mt-2">
      <p className="cap">{name}</p>
      <div className="mt-1 grid grid-cols-3 gap-1.5" role="group" aria-label={name}>
        {children}
      </div>
    </div>
  );
}

function Tap(props: { on: boolean; said?: boolean; onTap: () => void; children: ReactNode; name?: string }) {
  return (
    <button
      type="button"
      aria-pressed={props.on}
      aria-label={props.name}
      onClick={props.onTap}
      className={`min-h-12 min-w-0 rounded-sm border-[1.5px] px-1 text-[16px] font-[600] ${props.on ? "border-ink bg-ink text-paper" : `bg-paper ${props.said ? "border-dashed border-soft" : "border-line hover:border-soft"}`}`}
    >
      {props.children}
    </button>
  );
}

type FigureProps = {
  name: "volts" | "amps";
  unit: string;
  pick: Charging["look"]["volts"];
  value: number | undefined;
  onTap: (value: number) => void;
  digits: number;
};

/** A figure in a tap: what the forecast says and what lies near it, or another, typed. */
function Figure({ name, unit, pick, value, onTap, digits }: FigureProps) {
  const [typed, setTyped] = useState<string>();
  const other = value !== undefined && !pick.picks.includes(value);
  const number = typed === undefined ? undefined : readNumber(typed);
  return (
    <div className="mt-2">
      <p className="flex items-baseline gap-2">
        <span className="text-[38px] leading-none font-[780] tracking-tight">
          {value === undefined ? (
            <span className="text-[24px] tracking-normal capitalize">{name}</span>
          ) : (
            <>
              {value}
              <span className="unit">{unit}</span>
            </>
          )}
        </span>
        <span className="text-[14px] text-soft">forecast says {showNumber(pick.said, digits)}</span>
      </p>
      {typed === undefined ? (
        <div className="mt-1 grid grid-cols-6 gap-1" role="group" aria-label={name}>
          {pick.picks.map((v) => (
            <Tap
              key={v}
              on={value === v}
              said={v === pick.said}
              name={`${v.toFixed(digits)} ${unit}`}
              onTap={() => onTap(v)}
            >
              {showNumber(v, digits)}
            </Tap>
          ))}
          <Tap on={other} name={`Other ${name}`} onTap={() => setTyped("")}>
            other
          </Tap>
        </div>
      ) : (
        <div className="mt-1">
          <NumberEntry
            label={`Other ${name}`}
            unit={unit}
            value={typed}
            onChange={setTyped}
            first
            onEnter={() => {
              if (number === undefined) return;
              onTap(number);
              setTyped(undefined);
            }}
            action={
              <>
                <button
                  className="btn flex-1"
                  disabled={number === undefined}
                  onClick={() => {
                    onTap(number!);
                    setTyped(undefined);
                  }}
                >
                  Take it
                </button>
                <button className="btn btn-line" onClick={() => setTyped(undefined)}>
                  Back
                </button>
              </>
            }
          />
        </div>
      )}
    </div>
  );
}
