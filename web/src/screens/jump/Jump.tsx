import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { JumpPlan } from "../../lib/api";
import { useChoices, useJobChange, useJumpKit, useJumpPlan, useSheet } from "../../lib/queries";
import { useNarrow } from "../../lib/pointer";
import { useFirst } from "../../lib/first";
import { beginStay } from "../../lib/stay";
import { keep, showNumber } from "../../lib/units";
import { Triangle } from "../../parts/CautionLine";
import { Dipstick } from "../../parts/Dipstick";
import { Failure, Loading } from "../../parts/Failure";
import { Sign } from "../../parts/Sign";
import { Running, useStay } from "../job/Aids";
import { Bay } from "./Bay";
import { afterStep, freshCall, keepCall, lastCall, onSheet, requestOf, sourceOf, type Call } from "./call";
import { Circuit } from "./Circuit";
import { Curve } from "./Curve";
import { Order } from "./Order";
import { Stair } from "./Stair";
import { Steppers } from "./Steppers";
import { Told } from "./Told";
import { MinutesHere, Tries } from "./Tries";

/** Will it start on another source, and how without a burn: for a job's battery, or for a call from the roadside. */
export function Jump() {
  const [params] = useSearchParams();
  const job = params.get("job") ?? undefined;
  return <Planner key={job} job={job} />;
}

function Planner({ job }: { job: string | undefined }) {
  const kit = useJumpKit();
  const choices = useChoices();
  const sheet = useSheet(job ?? "");
  const [told, setCall] = useState<Call>(() => lastCall(job));
  const call = kit.data && sheet.data && job ? onSheet(kit.data, told, sheet.data) : told;
  const [open, setOpen] = useState(true);
  const narrow = useNarrow();
  const main = useRef<HTMLDivElement>(null);
  useFirst(main, "jump");
  const change = (to: Partial<Call>) =>
    setCall(() => {
      const next = { ...call, ...to };
      keepCall(job, next);
      return next;
    });
  const ask = (of: Call) =>
    kit.data && (!job || sheet.data) ? requestOf(kit.data, choices.data, of, job !== undefined) : undefined;
  const next = kit.data ? afterStep(kit.data, call).flatMap((c) => ask(c) ?? []) : [];
  const plan = useJumpPlan(ask(call), job, next);
  useEffect(() => {
    document.title = "Jump start · Grapnel";
    return () => {
      document.title = "Grapnel";
    };
  }, []);
  if (kit.error ?? choices.error)
    return (
      <Failure
        error={(kit.error ?? choices.error)!}
        retry={() => void Promise.all([kit.refetch(), choices.refetch()])}
      />
    );
  if (!kit.data || !choices.data || (job && sheet.isPending)) return <Loading what="the jump planner" />;
  const tag = sheet.data?.job.battery.tag;
  const source = sourceOf(kit.data, call);
  const head = (
    <div className="flex flex-wrap items-center gap-x-3">
      <p className="min-w-0 flex-1 text-[15px] max-md:basis-full max-md:pt-1.5">
        {sheet.data ? (
          <Link to={`/jobs/${job}`} className="underline underline-offset-4">
            <b className="tight text-[20px] font-[800]">{tag}</b> {sheet.data.job.vehicle.name}
          </Link>
        ) : (
          <b className="tight text-[20px] font-[800]">{word(choices.data.classes, call.class)}</b>
        )}
        <span className="text-soft">
          {plan.data?.about && ` · ${plan.data.about}`} · {source.word}
        </span>
      </p>
      <button className="btn btn-quiet max-md:-ml-2.5" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "Fold what was told" : "Change what was told"}
      </button>
      {!job && (
        <button
          className="btn btn-quiet"
          onClick={() => {
            keepCall(job, freshCall);
            setCall(freshCall);
            setOpen(true);
          }}
        >
          New call
        </button>
      )}
    </div>
  );
  const electric = plan.data?.wake !== undefined;
  return (
    <div
      ref={main}
      className={
        plan.data?.allowed === false
          ? "max-w-[1080px]"
          : "wide:grid wide:min-h-[calc(100vh-56px-var(--strip-h))] wide:grid-cols-[minmax(0,1fr)_372px]"
      }
    >
      <div className="min-w-0 px-4 py-2 md:px-6">
        {head}
        {plan.data && <Answer plan={plan.data} stale={plan.isPlaceholderData} />}
        {open && <Told kit={kit.data} choices={choices.data} call={call} change={change} job={job !== undefined} />}
        {plan.error && !plan.data && (
          <p role="alert" className="mt-3 border-l-4 border-oxide bg-card px-4 py-3 font-[600] text-oxide">
            {plan.error.message}
          </p>
        )}
        {plan.data && (
          <div className={plan.isPlaceholderData ? "opacity-60" : ""} data-stale={plan.isPlaceholderData || undefined}>
            {plan.data.allowed && (
              <>
                {narrow ? (
                  <Stair plan={plan.data} kind={source.kind} />
                ) : (
                  <Circuit plan={plan.data} kind={source.kind} />
                )}
                <Speed plan={plan.data} />
                {narrow && (
                  <a href="#order" className="btn btn-line mt-2 w-full">
                    Clamps, in order
                  </a>
                )}
                <div className="mt-2 grid gap-x-7 gap-y-4 md:grid-cols-2 xl:grid-cols-[300px_minmax(0,1fr)_minmax(0,260px)]">
                  <Steppers kit={kit.data} plan={plan.data} call={call} change={change} />
                  <Curve plan={plan.data} />
                  <Changes plan={plan.data} />
                </div>
                <Afterwards plan={plan.data} />
              </>
            )}
          </div>
        )}
      </div>
      {plan.data?.allowed && (
        <Side
          key={`${source.kind} ${plan.data.connect.map((a) => a.place).join()}`}
          plan={plan.data}
          kind={source.kind}
          call={call}
          electric={electric}
          job={job}
          tag={tag ?? "Call"}
        />
      )}
    </div>
  );
}

const word = (all: { class: string; word: string }[], code: string) => all.find((c) => c.class === code)?.word ?? code;

/** The answer, the largest thing there; where it is refused, what to do instead. */
function Answer({ plan, stale }: { plan: JumpPlan; stale: boolean }) {
  if (!plan.allowed)
    return (
      <div role="alert" className="mt-3 border-l-[6px] border-oxide bg-card px-5 py-4">
        <h1 className="tight flex items-center gap-3 text-[30px] leading-tight font-[790] text-oxide md:text-[38px]">
          <Sign kind="stop" size={30} /> {plan.answer}
        </h1>
        <ul className="mt-2 grid gap-2 text-[19px] leading-snug font-[600]">
          {plan.refusals.map((r) => (
            <li key={r.code}>{r.text}</li>
          ))}
        </ul>
        <p className="mt-3 text-[15px] text-soft">{plan.then}</p>
      </div>
    );
  const colour = plan.starts === "yes" ? "text-verdigris" : "text-copper";
  const m = plan.minutes;
  const band =
    m && plan.minutes_first
      ? `${m.low} to ${m.high === undefined ? "more than 20" : m.high} min: what it accepts in this cold is uncertain`
      : undefined;
  return (
    <div aria-live="polite" className={`mt-0.5 ${stale ? "opacity-60" : ""}`}>
      <h1 className="tight text-[30px] leading-[1.08] font-[790] md:text-[38px]" data-testid="answer">
        <span className={colour}>{plan.answer}</span> {plan.then}
      </h1>
      {band && <p className="text-[14.5px] text-soft">{band}</p>}
    </div>
  );
}

/** What a try reaches against what it has to, on the stick. */
function Speed({ plan }: { plan: JumpPlan }) {
  const r = plan.reached!;
  const digits = r.unit === "V" ? 1 : 0;
  const most = r.unit === "V" ? r.needs * 1.25 : Math.max(r.high, r.needs, plan.later?.reached ?? 0) * 1.15;
  const step = r.unit === "V" ? 0.5 : most > 300 ? 50 : 20;
  const least = r.unit === "V" ? r.needs * 0.75 : 0;
  const later =
    plan.later && plan.minutes_first
      ? [{ at: plan.later.reached, word: `after ${plan.minutes_first} min`, ghost: true }]
      : [];
  return (
    <div className="mt-1" data-testid="speed">
      <Dipstick
        name={r.unit === "V" ? "Volts while it wakes" : "Speed it turns at"}
        gauge={{
          quantity: "jump",
          name: "",
          unit: r.unit,
          digits,
          min: least,
          max: Math.ceil(most / step) * step,
          step,
          level: plan.starts === "yes" ? "ok" : "act",
          label: `${r.unit === "V" ? "holds" : "turns at"} ${showNumber(r.best, digits)} ${r.unit}`,
          band: { low: r.low, best: r.best, high: r.high },
          notches: [{ at: r.needs, word: `needs ${showNumber(r.needs, digits)}`, ghost: false }, ...later],
          shown: true,
        }}
      />
    </div>
  );
}

function Changes({ plan }: { plan: JumpPlan }) {
  if (plan.changes.length === 0) return null;
  const r = plan.reached!;
  return (
    <section aria-label="Smallest change that would do">
      <p className="cap text-ink!">Smallest change that would do</p>
      <ul className="mt-1">
        {plan.changes.map((c) => (
          <li key={c.code} className="flex items-start gap-2.5 border-t border-line py-1.5 text-[14.5px] leading-snug">
            <span className="mt-0.5">
              <Sign kind="ok" bare />
            </span>
            <span>
              <b className="font-[640]">{c.do.charAt(0).toUpperCase() + c.do.slice(1)}</b>
              <span className="block text-[13.5px] text-soft">
                {[
                  c.note,
                  `${showNumber(c.reached, r.unit === "V" ? 1 : 0)} ${r.unit}`,
                  c.minutes === 0 ? "at once" : "",
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </span>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Afterwards({ plan }: { plan: JumpPlan }) {
  if (!plan.after) return null;
  return (
    <section aria-label="Once it runs" className="mt-4 border-t border-line pt-2">
      <p className="cap text-ink!">Once it runs</p>
      <ol className="mt-1 grid gap-x-8 gap-y-1.5 text-[15px] leading-snug md:grid-cols-2">
        {plan.after.say.map((w) => (
          <li key={w.code} className="flex items-start gap-2">
            <span className="mt-[3px]">
              <Sign kind={w.code === "restart" && !plan.after!.restarts_cold ? "act" : "note"} bare />
            </span>
            {keep(w.text)}
          </li>
        ))}
      </ol>
    </section>
  );
}

type SideProps = {
  plan: JumpPlan;
  kind: string;
  call: Call;
  electric: boolean;
  job: string | undefined;
  tag: string;
};

/** The bay with its clamps, the steps in order, what to mind, and the way to begin. */
function Side({ plan, kind, call, electric, job, tag }: SideProps) {
  const [off, setOff] = useState(false);
  const [done, setDone] = useState(0);
  const turn = (to: boolean) => {
    setOff(to);
    setDone(0);
  };
  const waits = (plan.minutes_first ?? 0) > 0;
  const acts = off ? plan.disconnect : plan.connect;
  const clamps = plan.connect.filter((a) => a.clamp).length;
  const bitten = acts.slice(0, done).filter((a) => a.clamp).length;
  return (
    <aside
      id="order"
      aria-label="Clamps and order"
      className="border-line bg-card px-4 py-3 max-wide:border-t md:px-5 wide:border-l"
    >
      <div className="wide:sticky wide:top-[62px] wide:flex wide:max-h-[calc(100vh-70px-var(--strip-h))] wide:flex-col">
        <div className="wide:min-h-0 wide:flex-1 wide:overflow-y-auto">
          <p className="flex items-baseline justify-between">
            <span className="cap text-ink!">{off ? "Clamps off, in this order" : "Clamps on, in this order"}</span>
            <span className="cap">{call.earth === "positive" && !job ? "earth is positive" : ""}</span>
          </p>
          <Bay plan={plan} kind={kind} boot={call.boot} electric={electric} done={off ? clamps - bitten : bitten} />
          <Order plan={plan} off={off} setOff={turn} done={done} setDone={setDone} />
          <ul aria-label="To mind" className="mt-2 grid gap-1">
            {plan.cautions.map((c) => (
              <li key={c.code} className="flex gap-2 text-[14px] leading-snug">
                <Triangle />
                {c.text}
              </li>
            ))}
            <li className="text-[13.5px] text-soft">Both makers’ handbooks and local rules go first.</li>
          </ul>
        </div>
        <div className="flex flex-wrap gap-2 pt-2 [&>*]:min-w-[44%] [&>*]:flex-1">
          {!off && waits && (job ? <Minutes plan={plan} job={job} /> : <MinutesHere plan={plan} tag={tag} />)}
          {!off && !electric && <Tries plan={plan} job={job ?? "road"} tag={tag} first={!waits} />}
          {job && (
            <Link to={electric ? `/jobs/${job}` : `/jobs/${job}?at=crank`} className="btn btn-line">
              {electric ? "Back to its sheet" : "Write down how it went"}
            </Link>
          )}
        </div>
      </div>
    </aside>
  );
}

/** The minutes on the leads, on the shop's clock. */
function Minutes({ plan, job }: { plan: JumpPlan; job: string }) {
  const sheet = useSheet(job);
  const stay = useStay(job);
  const begin = useJobChange(() => beginStay(job, "jump", plan.minutes_first));
  if (sheet.data?.stay) return <Running sheet={sheet.data} onEnd={stay.end} busy={stay.busy} />;
  return (
    <>
      <button className="btn btn-act w-full" disabled={begin.isPending} onClick={() => begin.mutate(undefined)}>
        Clamps are on: {plan.minutes_first} min
      </button>
      {begin.error && (
        <p role="alert" className="text-oxide">
          {begin.error.message}
        </p>
      )}
    </>
  );
}
