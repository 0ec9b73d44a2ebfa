import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Guide as GuideBody, GuideStep, Part } from "../../lib/api";
import { useKeys } from "../../lib/keys";
import { useNarrow } from "../../lib/pointer";
import { CautionRow } from "../../parts/CautionLine";
import { Failure, Loading } from "../../parts/Failure";
import { Nowhere } from "../../parts/Nowhere";
import { Sign } from "../../parts/Sign";
import { sendReading } from "./readings";
import { Arcs } from "./Arcs";
import { FitList } from "./FitList";
import { Levels } from "./Levels";
import { Picture } from "./picture/Picture";
import { Proof } from "./Proof";
import { Setup } from "./Setup";
import { WhatIsOff } from "./WhatIsOff";
import { Steps } from "./Steps";
import { useGuide, type What } from "./useGuide";

const names: Record<What, string> = {
  clean: "clean",
  water: "water",
  replace: "replace",
  store: "put away",
  wake: "wake up",
};

const begins: Record<What, string> = {
  clean: "Clean it",
  water: "Fill its cells",
  replace: "Replace it",
  store: "Put it away",
  wake: "Wake it up",
};

/** What is said when all is done. */
const ends: Record<What, string> = {
  clean: "Clean",
  water: "Filled",
  replace: "It is in",
  store: "Put away",
  wake: "Awake",
};

/** A guide as if it had not been begun. */
function withoutRun(guide: GuideBody): GuideBody {
  const out = { ...guide };
  delete out.run;
  return out;
}

/** Off what, in a word. */
const offOf = (guide: GuideBody) =>
  `the ${{ atv: "ATV", electric: "vehicle" }[guide.drawn.class] ?? guide.drawn.class}`;

/** A guide that knows this vehicle: one step large, ticked by tap, key or foot. */
export function Guide() {
  const { id = "", what = "" } = useParams();
  if (!(what in names)) return <Nowhere what="There is no such guide." more="The address is wrong." />;
  return <Guided key={id + what} job={id} what={what as What} />;
}

function Guided({ job, what }: { job: string; what: What }) {
  const g = useGuide(job, what);
  const { guide, query } = g;
  const [seen, setSeen] = useState<string>(); // a step looked at that is not the next
  const [asking, setAsking] = useState(false);
  const [anew, setAnew] = useState(false);
  const narrow = useNarrow();
  const queries = useQueryClient();
  const go = useNavigate();
  useEffect(() => {
    document.title = `${guide?.tag ?? ""} ${names[what]} · Grapnel`;
    document.documentElement.dataset.place = "guide";
    return () => {
      document.title = "Grapnel";
      delete document.documentElement.dataset.place;
    };
  }, [guide?.tag, what]);
  const steps = guide?.steps ?? [];
  const done = new Map((guide?.done ?? []).map((d) => [d.step, d.kind]));
  const next = steps.findIndex((s) => s.code === guide?.now);
  const looked = steps.findIndex((s) => s.code === seen);
  const at = looked >= 0 ? looked : next;
  const step = at >= 0 ? steps[at] : undefined;
  const plain =
    step &&
    !done.has(step.code) &&
    !step.choices?.length &&
    !step.enter?.includes("fit") &&
    !step.enter?.includes("levels");
  const running = guide?.run && !guide.run.ended_at && !guide.closed;
  const tick = (s: GuideStep, more: { choice?: string; reason?: string } = {}) => {
    setSeen(undefined);
    g.event({ kind: "ticked", step: s.code, ...more }, s.do);
  };
  useKeys((key, event) => {
    if (!running || asking) return;
    const button = (event.target as HTMLElement | null)?.closest("button, a");
    if (key === " " && (!button || button.hasAttribute("data-done"))) {
      event.preventDefault(); // it would press the button once more, or scroll
      if (!event.repeat && step && plain) tick(step);
    } else if (key === "ArrowDown" || key === "ArrowRight") setSeen(steps[Math.min(at + 1, steps.length - 1)]?.code);
    else if (key === "ArrowUp" || key === "ArrowLeft") setSeen(steps[Math.max(at - 1, 0)]?.code);
    else if (key === "Backspace") {
      const last = [...(guide?.done ?? [])].sort((a, b) => a.at.localeCompare(b.at)).at(-1);
      if (last) g.event({ kind: "unticked", step: last.step }, "taken back");
    }
  });
  if (query.error && !guide) return <Failure error={query.error} retry={() => void query.refetch()} />;
  if (!guide) return <Loading what="the guide" />;

  const head = (
    <div className="flex min-h-[52px] items-center gap-2 border-b border-ink md:min-h-14">
      <Link to={`/jobs/${job}`} className="flex min-h-12 min-w-0 flex-1 items-center gap-2.5 text-[15px]">
        <span aria-hidden className="text-[22px] leading-none text-soft">
          ‹
        </span>
        <b className="tight shrink-0 text-[21px] font-[800] whitespace-nowrap">{guide.tag}</b>
        <span className="sr-only">, to its sheet:</span>
        <span className="truncate">
          {names[what]} · {guide.vehicle}
        </span>
      </Link>
      {guide.run && !asking && guide.asks.length > 0 && running && (
        <button className="btn btn-quiet shrink-0 px-2!" onClick={() => setAsking(true)}>
          Vehicle
        </button>
      )}
      {step && guide.run && (
        <p className="cap shrink-0 whitespace-nowrap" data-testid="place">
          {at + 1} of {steps.length}
        </p>
      )}
    </div>
  );
  const shell = "mx-auto max-w-[1280px] px-4 md:px-6";

  if (guide.refusal)
    return (
      <div className={shell}>
        {head}
        <div className="mt-6 border-l-8 border-oxide bg-card px-5 py-4">
          <h1 className="flex items-center gap-3 text-[32px] leading-tight font-[780] text-oxide">
            <Sign kind="stop" size={26} bare /> Not now
          </h1>
          <p className="mt-1 text-[19px]">{guide.refusal}</p>
          <div className="mt-4 flex flex-wrap gap-3">
            {guide.instead && (
              <Link className="btn btn-act" to={`/jobs/${job}/guide/${guide.instead}`}>
                {guide.instead === "replace" ? "Replace it" : "Fill its cells"}
              </Link>
            )}
            <Link className="btn btn-line" to={`/jobs/${job}`}>
              To its sheet
            </Link>
          </div>
        </div>
        {guide.open.length > 0 && (
          <div className="mt-6 max-w-[620px]">
            <WhatIsOff
              open={guide.open}
              coming={[]}
              vehicle={offOf(guide)}
              onBack={(p) => g.event({ kind: "put_back", part: p.code }, `${p.word} back`)}
            />
          </div>
        )}
      </div>
    );

  if (anew)
    return (
      <div className={shell}>
        {head}
        <h1 className="pt-4 pb-3 text-[30px] leading-tight font-[780]" style={{ fontStretch: "92%" }}>
          Once more
        </h1>
        <Setup
          guide={withoutRun(guide)}
          word="Begin"
          onCancel={() => setAnew(false)}
          onSet={async (site, reason) => {
            await g.begin(site, reason);
            setAnew(false);
          }}
        />
      </div>
    );

  if (!guide.run || asking)
    return (
      <div className={shell}>
        {head}
        <h1 className="pt-4 pb-3 text-[30px] leading-tight font-[780]" style={{ fontStretch: "92%" }}>
          {guide.run ? "How the vehicle is" : begins[what]}
          {!guide.run && <span className="font-[560] text-soft"> · {steps.length} steps</span>}
        </h1>
        <Setup
          guide={guide}
          word={guide.run ? "Keep this" : "Begin"}
          onCancel={guide.run ? () => setAsking(false) : undefined}
          onSet={async (site, reason) => {
            await (guide.run ? g.change({ ...guide.site, ...site }) : g.begin(site, reason));
            setAsking(false);
          }}
        />
      </div>
    );

  if (!step || (guide.run.ended_at && !seen))
    return (
      <div className={shell}>
        {head}
        <Finished
          guide={guide}
          job={job}
          onAgain={() => setAnew(true)}
          onBack={(p) => g.event({ kind: "put_back", part: p.code }, `${p.word} back`)}
        />
      </div>
    );

  const cautions = (step.cautions ?? []).flatMap((code) => guide.cautions.filter((c) => c.code === code));
  const coming = (step.off ?? []).flatMap((code) => guide.parts.filter((p) => p.code === code));
  const mine = guide.done.find((d) => d.step === step.code);
  const big = "btn btn-act min-h-[84px]! w-full text-[27px]! max-md:min-h-[72px]!";
  const acts = mine ? (
    <div className="flex items-center gap-3 border-[1.5px] border-line bg-card px-4 py-2">
      <Sign kind={mine.kind === "skipped" ? "wait" : "ok"} bare />
      <p className="min-w-0 flex-1 text-[15px]">
        <b className="font-[680]">{mine.kind === "skipped" ? "Skipped" : "Done"}</b> by {mine.by}
        {mine.choice && ` · ${step.choices?.find((c) => c.code === mine.choice)?.word ?? mine.choice}`}
      </p>
      {running && (
        <button className="btn btn-line" onClick={() => g.event({ kind: "unticked", step: step.code }, "taken back")}>
          Take back
        </button>
      )}
      {at !== next && next >= 0 && (
        <button className="btn btn-act" onClick={() => setSeen(undefined)}>
          To the next
        </button>
      )}
    </div>
  ) : step.enter?.includes("fit") ? (
    <FitList
      job={job}
      guide={guide}
      onTake={(choice, reason) => tick(step, { choice, ...(reason ? { reason } : {}) })}
    />
  ) : step.enter?.includes("levels") ? (
    <Levels
      guide={guide}
      onSave={(cells) => {
        sendReading(queries, job, guide.tag, { kind: "levels", cells }, "Levels");
        tick(step);
      }}
    />
  ) : step.choices?.length ? (
    <div className="grid grid-cols-2 gap-2">
      {step.choices.map((c, i) => (
        <button
          key={c.code}
          data-done
          className={`btn min-h-[64px]! px-3! whitespace-normal! ${i === 0 ? "btn-act" : "btn-line"}`}
          onClick={() => tick(step, { choice: c.code })}
        >
          <span className="min-w-0">
            {c.word}
            {c.says && <span className="block text-[12.500px] leading-tight font-[500] opacity-85">{c.says}</span>}
          </span>
        </button>
      ))}
    </div>
  ) : (
    <button data-done data-first className={big} onClick={() => tick(step)} disabled={!running}>
      <svg viewBox="0 0 32 26" width="38" height="31" aria-hidden>
        <path d="M3 13l9 10L29 3" fill="none" stroke="currentColor" strokeWidth="5.5" />
      </svg>
      Done
    </button>
  );
  const arrows = (
    <div className="flex items-center justify-between">
      <button className="btn btn-quiet" disabled={at <= 0} onClick={() => setSeen(steps[at - 1]?.code)}>
        ‹ Before
      </button>
      {running && !mine && !step.enter?.includes("fit") && (
        <button
          className="btn btn-quiet"
          onClick={() => {
            setSeen(undefined);
            g.event({ kind: "skipped", step: step.code }, "skipped");
          }}
        >
          Skip it
        </button>
      )}
      <Link className="btn btn-quiet text-oxide!" to={`/jobs/${job}?at=look`}>
        Something is wrong
      </Link>
      <button className="btn btn-quiet" disabled={at >= steps.length - 1} onClick={() => setSeen(steps[at + 1]?.code)}>
        After ›
      </button>
    </div>
  );
  const tells = (
    <>
      {step.look && (
        <p className="flex items-start gap-2.5 text-[15px] leading-snug">
          <Eye /> <span>{step.look}</span>
        </p>
      )}
      {step.later && (
        <p className="flex items-start gap-2.5 text-[15px] leading-snug text-slate">
          <Flag /> <span>{step.later}</span>
        </p>
      )}
    </>
  );
  const enters = (step.enter ?? []).filter((e) => e !== "fit" && e !== "levels");
  const picture = enters.length > 0 ? <Proof guide={guide} job={job} enter={enters} /> : null;
  const list = step.enter?.includes("fit") || (step.enter?.includes("levels") && !mine);
  const shelf = (
    <WhatIsOff
      open={guide.open}
      coming={mine ? [] : coming}
      vehicle={offOf(guide)}
      onBack={guide.closed ? undefined : (p) => g.event({ kind: "put_back", part: p.code }, `${p.word} back`)}
    />
  );
  const charge = step.charge && !mine && (
    <button className="btn btn-line w-full" onClick={() => void go(`/jobs/${job}?at=charge&guide=${what}`)}>
      To the charge station
    </button>
  );
  return (
    <div className={shell}>
      {head}
      <div className="grid gap-x-8 md:grid-cols-[236px_minmax(0,1fr)] wide:grid-cols-[236px_minmax(0,1fr)_290px]">
        {!narrow && (
          <div className="h-[calc(100dvh-var(--strip-h)-114px)] overflow-y-auto border-r border-line py-2 pr-3 max-md:hidden">
            <Steps guide={guide} done={done} at={at} go={(i) => setSeen(steps[i]?.code)} />
          </div>
        )}
        <div
          className={`flex min-w-0 flex-col max-md:min-h-[calc(100dvh-var(--strip-h)-56px)] ${list || picture ? "md:min-h-[calc(100dvh-var(--strip-h)-114px)]" : "md:h-[calc(100dvh-var(--strip-h)-114px)] md:min-h-[560px]"}`}
        >
          <Arcs steps={steps} done={new Set(done.keys())} at={at} />
          <h1
            aria-live="polite"
            className="text-[37px] leading-[1.02] font-[790] max-md:text-[31px]"
            style={{ fontStretch: "90%" }}
          >
            {step.do}
          </h1>
          <p className="mt-1.5 text-[17px] leading-snug text-soft max-md:text-[15px]">{step.why}</p>
          <div className={`min-h-0 ${list ? "" : "flex flex-1 items-center justify-center"} py-1.5`}>
            {picture ? (
              <div className="w-full max-w-[560px] py-2">{picture}</div>
            ) : list ? null : (
              <Picture guide={guide} step={step} className="block h-full w-full max-md:h-auto max-md:max-h-[34dvh]" />
            )}
          </div>
          <div className="flex flex-col gap-1.5 wide:hidden">{tells}</div>
          {cautions.length > 0 && (
            <div className="my-1 flex flex-wrap items-center border-y border-line wide:hidden">
              <CautionRow cautions={cautions} />
            </div>
          )}
          <div className="flex flex-col gap-2 pt-1">
            {charge}
            {acts}
          </div>
          {arrows}
          <div className="wide:hidden">{shelf}</div>
        </div>
        <div className="flex h-[calc(100dvh-var(--strip-h)-114px)] min-w-0 flex-col gap-3 overflow-y-auto border-l border-line pt-4 pb-1 pl-6 max-wide:hidden">
          {cautions.map((c) => (
            <div key={c.code} className="border-l-4 border-copper pl-3">
              <p className="text-[15px] leading-snug font-[660]">{c.line}</p>
              <p className="text-[13.500px] leading-snug text-soft">{c.more}</p>
            </div>
          ))}
          {tells}
          <div className="mt-auto">{shelf}</div>
        </div>
      </div>
    </div>
  );
}

const Eye = () => (
  <svg width="20" height="20" viewBox="0 0 20 20" className="mt-0.5 shrink-0" aria-label="Look" role="img">
    <path d="M1 10C5 3 15 3 19 10 15 17 5 17 1 10Z" fill="none" stroke="currentColor" strokeWidth="1.8" />
    <circle cx="10" cy="10" r="3.2" fill="currentColor" />
  </svg>
);
const Flag = () => (
  <svg width="20" height="20" viewBox="0 0 20 20" className="mt-0.5 shrink-0" aria-label="For later" role="img">
    <path d="M4 19V2h12l-3 4 3 4H4" fill="none" stroke="currentColor" strokeWidth="1.8" strokeLinejoin="round" />
  </svg>
);

/** All is done: what it has brought, what is still off, and where the work goes on. */
function Finished({
  guide,
  job,
  onAgain,
  onBack,
}: {
  guide: GuideBody;
  job: string;
  onAgain: () => void;
  onBack: (p: Part) => void;
}) {
  // What was put away so stays off until it is woken.
  const still = guide.open.some((p) => !p.stored);
  const skipped = guide.done.filter((d) => d.kind === "skipped");
  const later = guide.steps.flatMap((s) => (s.later && guide.done.some((d) => d.step === s.code) ? [s.later] : []));
  return (
    <div className="grid gap-8 py-5 md:grid-cols-[minmax(0,1fr)_minmax(0,360px)]">
      <div className="min-w-0">
        <h1
          className={`flex items-center gap-3 text-[38px] leading-tight font-[790] ${still ? "text-copper" : "text-verdigris"}`}
        >
          <Sign kind={still ? "act" : "ok"} size={28} bare />
          {still ? "Done, but for what is off" : ends[guide.what]}
        </h1>
        {still && (
          <p className="mt-1 text-[18px]">
            Neither battery nor vehicle is handed over with it off. Tap what is back on.
          </p>
        )}
        {guide.proof.length > 0 && (
          <div className="mt-4 max-w-[560px]">
            <Proof guide={guide} job={job} enter={[]} />
          </div>
        )}
        {later.map((l) => (
          <p key={l} className="mt-4 flex items-start gap-2.5 text-[16px] leading-snug text-slate">
            <Flag /> <span>{l}</span>
          </p>
        ))}
        {skipped.length > 0 && (
          <p className="mt-4 border-l-4 border-slate pl-3 text-[16px]">
            Skipped: {skipped.map((d) => guide.steps.find((s) => s.code === d.step)?.do).join(", ")}.
          </p>
        )}
        <div className="mt-5 flex flex-wrap gap-3">
          {guide.followed_by ? (
            <Link className="btn btn-act min-h-16!" to={`/jobs/${guide.followed_by}`} data-first>
              Prove the new one
            </Link>
          ) : (
            <Link className="btn btn-act min-h-16!" to={`/jobs/${job}`} data-first>
              To its sheet
            </Link>
          )}
          {(guide.what === "store" || guide.what === "wake") && (
            <Link className="btn btn-line min-h-16!" to={guide.what === "store" ? `/season/new?job=${job}` : "/season"}>
              {guide.what === "store" ? "Its season" : "What still stands"}
            </Link>
          )}
          {!guide.closed && guide.what !== "replace" && (
            <button className="btn btn-line min-h-16!" onClick={onAgain}>
              Once more
            </button>
          )}
          {guide.followed_by && (
            <Link className="btn btn-line min-h-16!" to={`/jobs/${job}`}>
              The old one’s sheet
            </Link>
          )}
        </div>
      </div>
      <WhatIsOff open={guide.open} coming={[]} vehicle={offOf(guide)} onBack={guide.closed ? undefined : onBack} />
    </div>
  );
}
