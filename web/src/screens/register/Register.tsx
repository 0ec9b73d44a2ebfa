import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { BatteryLine, RegisterBody } from "../../lib/api";
import { usePerson, useRegister } from "../../lib/queries";
import { onDay } from "../../lib/time";
import { showTemp, showNumber } from "../../lib/units";
import { Failure, Loading } from "../../parts/Failure";
import { Sign } from "../../parts/Sign";
import { ColdYear } from "./ColdYear";
import { LowsForm } from "./LowsForm";
import { PartStick } from "./PartStick";

/** So many are drawn at first; the rest comes on a tap. */
const FIRST = 60;

/** Every battery's life: what fails soonest first, before it strands anyone. */
export function Register() {
  const [params] = useSearchParams();
  const find = params.get("find") ?? "";
  const register = useRegister(find);
  if (register.isPending) return <Loading what="the register" />;
  if (register.isError && !register.data)
    return <Failure error={register.error} retry={() => void register.refetch()} />;
  return <List key={find} body={register.data} find={find} stale={register.isPlaceholderData} />;
}

function List({ body, find, stale }: { body: RegisterBody; find: string; stale: boolean }) {
  const [typing, setTyping] = useState(false);
  const [shown, setShown] = useState(FIRST);
  const { batteries: all, lows } = body;
  const failing = all.filter((b) => b.life.fails?.week);
  return (
    <div className={`mx-auto max-w-[1280px] px-4 py-4 md:px-6 ${stale ? "opacity-45" : ""}`}>
      <div className="flex flex-wrap items-end justify-between gap-x-6 gap-y-3">
        <Head body={body} failing={failing} find={find} />
        <div className="flex flex-wrap gap-2">
          {lows && body.may_change && !typing && (
            <button className="btn btn-line" onClick={() => setTyping(true)}>
              The coldest nights
            </button>
          )}
        </div>
      </div>
      {(typing || (!lows && body.may_change)) && <LowsForm lows={lows} onDone={() => setTyping(false)} />}
      {!lows && !body.may_change && (
        <p className="mt-3 border-l-4 border-slate bg-card px-4 py-3">
          Nobody has typed the coldest nights of this place yet. Ask the lead: then the week each battery fails in
          stands here.
        </p>
      )}
      {lows && !find && <ColdYear now={body.now} lows={lows} batteries={failing} />}
      <Drifting body={body} />
      {all.length === 0 ? (
        <p className="mt-6 text-soft">
          {find ? `No battery with “${find}”.` : "No battery has been here yet. Each gets its life with its first job."}
        </p>
      ) : (
        <ul className="mt-3 border-b border-line">
          {all.slice(0, shown).map((b) => (
            <li key={b.tag} className="border-t border-line">
              <Row line={b} />
            </li>
          ))}
        </ul>
      )}
      {!find && <Testers body={body} />}
      {all.length > shown && (
        <button className="btn btn-line mt-4 w-full" onClick={() => setShown(shown + 200)}>
          {all.length - shown} more
        </button>
      )}
    </div>
  );
}

function Head({ body, failing, find }: { body: RegisterBody; failing: BatteryLine[]; find: string }) {
  const first = failing[0]?.life.fails;
  return (
    <div>
      <p className="cap">{find ? `Register, “${find}”` : "Register"}</p>
      <h1 tabIndex={-1} className="tight text-[30px] leading-[1.1] font-[760] outline-none md:text-[38px]">
        {find ? (
          `${body.batteries.length} of ${body.all} batteries`
        ) : first?.week ? (
          <>
            {failing.length} of {body.all} fail in the coming cold, the first about {week(first.week)}.
          </>
        ) : body.lows ? (
          `None of ${body.all} batteries fails in the coming cold.`
        ) : (
          `${body.all} batteries`
        )}
      </h1>
    </div>
  );
}

/** How the workshop's own testers read against each other, on batteries that several have read. */
function Testers({ body }: { body: RegisterBody }) {
  if (body.testers.length === 0) return null;
  return (
    <section aria-label="Testers" className="mt-6">
      <p className="cap">Testers against each other</p>
      <ul className="border-b border-line">
        {body.testers.map((t) => (
          <li
            key={t.name}
            className="flex min-h-12 flex-wrap items-center gap-x-4 gap-y-0.5 border-t border-line py-1.5"
          >
            <Sign kind={t.level} />
            <b className="min-w-[140px] font-[680]">{t.name}</b>
            <span className="text-[19px] font-[720] whitespace-nowrap">
              {t.off_pct < 0 ? "−" : "+"}
              {showNumber(Math.abs(t.off_pct), 1)}
              <span className="ml-1 text-[13px] font-medium text-soft">% ± {t.spread_pct.toFixed(0)}</span>
            </span>
            <span className="min-w-0 text-[14px] text-soft">
              {t.text} On {t.readings} {t.readings === 1 ? "battery" : "batteries"}.
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** A tester that drifts from the rest is named above all. */
function Drifting({ body }: { body: RegisterBody }) {
  const drifting = body.testers.filter((t) => t.level === "act" && !(t.against && t.off_pct < 0)); // of two, once
  return drifting.map((t) => (
    <p key={t.name} className="mt-3 flex items-baseline gap-2.5 border-l-4 border-copper bg-card px-4 py-2.5">
      <span className="translate-y-0.5">
        <Sign kind="act" />
      </span>
      <span>
        <b className="font-[680]">{t.name}.</b> {t.text}{" "}
        <span className="text-soft">Compared on {t.readings} batteries.</span>
      </span>
    </p>
  ));
}

export const week = (iso: string) => onDay(iso).replace(/,? \d{4}$/, "");

function Row({ line: b }: { line: BatteryLine }) {
  const scale = usePerson().temperature;
  const f = b.life.fails;
  return (
    <Link
      to={`/register/${encodeURIComponent(b.tag)}`}
      className="grid min-h-[68px] grid-cols-[minmax(0,1fr)_auto] items-center gap-x-5 gap-y-1 py-2.5 hover:bg-hush md:grid-cols-[minmax(0,300px)_minmax(0,1fr)_200px]"
    >
      <div className="min-w-0">
        <p className="flex items-baseline gap-2.5">
          <b className="text-[19px] font-[740] whitespace-nowrap">{b.tag}</b>
          <span className="min-w-0 truncate font-[560]">{b.vehicle}</span>
        </p>
        <p className="truncate text-[14px] text-soft">
          {[b.customer, b.build, b.twin && `with ${b.twin}`].filter(Boolean).join(" · ")}
        </p>
      </div>
      <div className="max-md:col-span-2 max-md:row-start-2">
        {b.life.now_pct ? (
          <PartStick now={b.life.now_pct} tested={b.life.tested} />
        ) : (
          <p className="text-[14px] text-soft">{b.life.says}</p>
        )}
      </div>
      <div className="text-right">
        {f?.week ? (
          <>
            <p className="text-[22px] leading-none font-[760] text-copper">{week(f.week)}</p>
            <p className="mt-1 text-[14px] text-soft">
              fails at {showTemp(f.low_c ?? 0, scale)} °{scale}
              {!b.life.tested && ", by age"}
            </p>
          </>
        ) : f ? (
          <>
            <p className="flex items-center justify-end gap-2 text-[17px] font-[680] text-verdigris">
              <Sign kind="ok" bare /> all winter
            </p>
            <p className="mt-1 text-[14px] text-soft">{b.life.tested ? "by its tests" : "by age"}</p>
          </>
        ) : b.life.ended ? (
          <p className="text-[15px] text-soft">ended {onDay(b.life.ended)}</p>
        ) : null}
      </div>
    </Link>
  );
}
