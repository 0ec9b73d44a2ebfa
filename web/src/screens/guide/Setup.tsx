import { useState } from "react";
import type { Guide, Site } from "../../lib/api";
import { PickAny, PickOne } from "../../parts/Chips";
import { Picture } from "./picture/Picture";

type Field = Guide["asks"][number]["field"];

/** What a guide is made for: a look at the vehicle, in few taps. */
export function Setup({
  guide,
  word,
  onSet,
  onCancel,
}: {
  guide: Guide;
  word: string;
  onSet: (site: Site, reason: string) => Promise<void>;
  /** Absent before it is begun. */
  onCancel?: (() => void) | undefined;
}) {
  const [site, setSite] = useState<Site>(guide.run ? guide.site : {});
  const [reason, setReason] = useState("");
  const [error, setError] = useState("");
  const [busy, setBusy] = useState(false);
  const chosen = (field: Field, usual: string[]) => {
    const said = site[field as keyof Site] as string | string[] | undefined;
    return said === undefined ? usual : [said].flat();
  };
  const wants = guide.wants_reason && !guide.run;
  const whole: Site = { ...guide.site, ...site };
  const live = guide.drawn.live === "+";
  const shown: Guide = {
    ...guide,
    site: whole,
    drawn: { ...guide.drawn, positive: whole.positive ?? guide.drawn.positive },
  };
  const step =
    guide.steps.find((s) => s.code === "earthed_off") ??
    guide.steps.find((s) => s.draw.view === "cells") ??
    guide.steps[0];
  const go = async () => {
    setBusy(true);
    setError("");
    try {
      await onSet(site, reason.trim());
    } catch (e) {
      setError(e instanceof Error ? e.message : String(e));
    }
    setBusy(false);
  };
  return (
    <div className="grid gap-x-10 gap-y-4 wide:grid-cols-[1fr_420px]">
      <div className="min-w-0">
        {wants && (
          <label className="mb-4 block border-l-4 border-copper pl-4">
            <span className="block text-[17px] font-[680]">No verdict asks for a new battery. Why all the same?</span>
            <span className="block text-[15px] text-soft">{guide.headline}</span>
            <input className="field mt-2" value={reason} maxLength={300} onChange={(e) => setReason(e.target.value)} />
          </label>
        )}
        {guide.asks.map((a) => (
          <fieldset key={a.field} className="mb-4">
            <legend className="pb-1.5 text-[17px] font-[680]">{a.ask}</legend>
            {a.hint && <p className="-mt-1 pb-1.5 text-[14px] text-soft">{a.hint}</p>}
            {a.several ? (
              <PickAny
                label={a.ask}
                chips={a.options}
                value={chosen(a.field, a.chosen)}
                onPick={(codes) => setSite({ ...site, [a.field]: codes })}
              />
            ) : (
              <PickOne
                label={a.ask}
                chips={a.options}
                value={chosen(a.field, a.chosen)[0]}
                onPick={(code) => setSite({ ...site, [a.field]: code })}
              />
            )}
          </fieldset>
        ))}
      </div>
      <div className="min-w-0 max-wide:contents">
        {step && (
          <div className="max-wide:hidden">
            <Picture guide={shown} step={step} className="block w-full" />
            <p className="pb-3 text-[15px] text-soft">
              {guide.drawn.live === "−"
                ? "Positive earth: the − post is live."
                : live
                  ? "The + post is live, the − earthed."
                  : ""}
            </p>
          </div>
        )}
        {error && (
          <p role="alert" className="pb-2 text-oxide">
            {error}
          </p>
        )}
        <div className="openbar flex flex-col gap-2 pb-6 max-wide:sticky max-wide:bottom-[calc(var(--strip-h)+env(safe-area-inset-bottom))] max-wide:-mx-4 max-wide:border-t max-wide:border-line max-wide:bg-paper max-wide:px-4 max-wide:py-2">
          <button
            data-saves
            data-first
            className="btn btn-act min-h-[72px]! text-[24px]!"
            disabled={busy || (wants && reason.trim() === "")}
            onClick={() => void go()}
          >
            {word}
          </button>
          {onCancel && (
            <button className="btn btn-line" onClick={onCancel}>
              Back to the step
            </button>
          )}
        </div>
      </div>
    </div>
  );
}
