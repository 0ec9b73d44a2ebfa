import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Home, PlugZap, Plug, Power, Printer, Sun } from "lucide-react";
import { useState, type ReactNode } from "react";
import { Link, useNavigate } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, type SeasonBody, type StoredBody } from "../../lib/api";
import { say } from "../../lib/notices";
import { showStored, usePerson } from "../../lib/queries";
import { dayAndTime } from "../../lib/time";
import { showTemp, unitOf, showNumber } from "../../lib/units";
import { CautionRow } from "../../parts/CautionLine";
import { Sign } from "../../parts/Sign";
import { LookEntry } from "./LookEntry";
import { inkOf, onDate, toneOf } from "./scale";
import { Tag } from "./Tag";
import { useLook } from "./useLook";
import { Ways } from "./Ways";
import { Winter } from "./Winter";

const hands = {
  mains: { word: "mains", icon: Plug },
  live_socket: { word: "live socket", icon: PlugZap },
  solar: { word: "panel", icon: Sun },
  indoors: { word: "shelf indoors", icon: Home },
  switch: { word: "switch", icon: Power },
} as const;

/** One battery that stands: its winter, what is next, and every way of keeping it. */
export function One({ body, season }: { body: StoredBody; season: SeasonBody }) {
  const { plan, doc, line } = body;
  const [picked, setPicked] = useState<string>();
  const shown = plan.ways.find((w) => w.way === (picked ?? doc.way)) ?? plan.ways[0]!;
  const scale = usePerson().temperature;
  const connected = plan.ways.find((w) => w.way === "connected");
  const sign = picked && picked !== doc.way ? shown.sign : line.now.sign;
  // What holds is said first; what is next stands under it.
  const says = shown.way !== doc.way || sign === "holds" ? shown.says : line.now.says;
  const looks = body.looks
    .filter((l) => !l.taken_back)
    .map((l) => ({
      date: l.look.date,
      text: l.look.charged ? "charged full" : l.look.rest_volts ? `${showNumber(l.look.rest_volts, 2)} V` : "driven",
    }));
  return (
    <article aria-label={`${line.tag}, ${line.vehicle}`} className="min-w-0">
      <div className="screen-only flex flex-wrap items-start gap-x-6 gap-y-2">
        <div className="min-w-0">
          <h1 tabIndex={-1} className="tight text-[32px] leading-none font-[800] outline-none">
            {line.tag}
          </h1>
          <p className="mt-1 font-[600]">{line.vehicle}</p>
        </div>
        <div className="min-w-0 flex-1 basis-72">
          <p
            className={`flex items-start gap-2 text-[22px] leading-[1.15] font-[770] md:text-[25px] ${inkOf[sign]}`}
            role="status"
          >
            <span className="mt-1.5">
              <Sign kind={toneOf[sign]} />
            </span>
            {says}
          </p>
          {shown.way === doc.way && sign === "holds" && line.now.next && (
            <p className="mt-0.5 font-[600]">{line.now.says}</p>
          )}
          {connected && shown.way !== "connected" && connected.sign !== "holds" && (
            <p className="mt-0.5 text-soft">Left connected: {lower(connected.says)}</p>
          )}
          {shown.way === doc.way && plan.otherwise && line.now.sign !== "holds" && (
            <p className="mt-0.5 text-soft">If not: {lower(plan.otherwise)}</p>
          )}
        </div>
        <dl className="flex overflow-hidden rounded-[5px] border-[1.5px] border-ink bg-card text-[13px]">
          <Label name={plan.label.replace(/, .*/, "")}>{plan.label.replace(/.*, /, "")}</Label>
          <Label name="Drain">
            {showNumber(plan.drain.drain_ma.best, plan.drain.drain_ma.best < 10 ? 1 : 0)}
            <span className="ml-1 text-[12.5px] font-[560] text-soft">mA{plan.before ? ", learnt" : ""}</span>
          </Label>
          <div className="border-l border-line px-3 py-1.5 max-md:hidden">
            <dt className="cap">At hand</dt>
            <dd className="flex h-[22px] items-center gap-2.5 text-[14.5px] font-[650]">
              {doc.at_hand.length === 0 && "nothing"}
              {doc.at_hand.map((h) => {
                const one = hands[h as keyof typeof hands];
                if (!one) return <span key={h}>{h}</span>;
                return (
                  <span key={h} className="flex items-center gap-1">
                    <one.icon size={17} aria-hidden />
                    {one.word}
                  </span>
                );
              })}
            </dd>
          </div>
        </dl>
      </div>
      <div className="screen-only mt-3">
        <Winter
          plan={plan}
          way={shown}
          today={season.today}
          margin={season.margin_c}
          looks={shown.way === doc.way ? looks : []}
        />
      </div>
      <div className="screen-only">
        {picked && picked !== doc.way && <KeepSo body={body} way={picked} onDone={() => setPicked(undefined)} />}
        <h2 className="cap mt-4 mb-1.5">Ways of keeping it</h2>
        <Ways plan={plan} kept={doc.way} shown={shown.way} onShow={setPicked} />
        <div className="mt-5 grid gap-x-8 gap-y-5 lg:grid-cols-2">
          {!body.woken_at && <LookEntry body={body} />}
          <Todo body={body} today={season.today} />
        </div>
        <Looks body={body} />
        {plan.maintainer && (
          <section aria-label="Its maintainer" className="mt-5">
            <h2 className="cap">Its maintainer, {shown.amps ?? doc.maintainer?.amps} A</h2>
            <ul className="border-b border-line">
              {plan.maintainer.lines.map((l) => (
                <li key={l.rule} className="flex min-h-11 items-center gap-2.5 border-t border-line py-1.5">
                  <Sign kind={l.unsure ? "note" : l.ok ? "ok" : "stop"} />
                  {l.text}
                </li>
              ))}
            </ul>
          </section>
        )}
        <section aria-label="Often said" className="mt-5">
          <h2 className="cap">Often said, and not so</h2>
          <ul className="border-b border-line">
            <Said claim="“Over 12 V it is safe”" is={plan.folk.says} />
            {plan.myths.map((m) => (
              <Said key={m.code} claim={m.claim} is={m.is} />
            ))}
          </ul>
          <h2 className="cap mt-5">While it stands</h2>
          <ul className="border-b border-line">
            {plan.advice.map((a) => (
              <li key={a} className="border-t border-line py-2">
                {a}
              </li>
            ))}
          </ul>
          <p className="mt-2 text-soft">
            Its acid freezes at {showTemp(line.now.state.freezes_c, scale)} {unitOf("°C", scale)} today, at the weak end
            of what it may hold.
          </p>
        </section>
        <Acts body={body} />
        <div className="mt-3">
          <CautionRow cautions={season.cautions.filter((c) => plan.cautions.includes(c.code))} />
        </div>
      </div>
      <Tag body={body} />
    </article>
  );
}

const lower = (text: string) => text.charAt(0).toLowerCase() + text.slice(1);

function Label({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div className="border-l border-line px-3 py-1.5 first:border-0">
      <dt className="cap whitespace-nowrap">{name}</dt>
      <dd className="flex h-[22px] items-baseline text-[18px] font-[750] whitespace-nowrap">{children}</dd>
    </div>
  );
}

function Said({ claim, is }: { claim: string; is: string }) {
  return (
    <li className="border-t border-line py-2 md:grid md:grid-cols-[220px_1fr] md:gap-4">
      <b className="font-[650]">{claim}</b>
      <p className="text-soft">{is}</p>
    </li>
  );
}

/** What is to be done from here on. */
function Todo({ body, today }: { body: StoredBody; today: string }) {
  const way = body.plan.ways.find((w) => w.way === body.doc.way);
  const needs = (way?.needs ?? []).filter((n) => n.code !== "put_away").slice(0, 6);
  return (
    <section aria-label="To be done">
      <h2 className="cap">To be done</h2>
      <ul className="border-b border-line">
        {needs.map((n) => (
          <li key={n.date + n.code} className="flex min-h-12 items-center gap-3 border-t border-line">
            <Sign kind={n.date < today ? "act" : n.date === today ? "act" : "wait"} bare />
            <b className="w-[64px] shrink-0 text-[17px] font-[720]">{onDate(n.date)}</b>
            <span>{n.do}</span>
            {n.date < today && <b className="ml-auto font-[650] text-copper">missed</b>}
          </li>
        ))}
        {needs.length === 0 && <li className="border-t border-line py-3 text-soft">Nothing.</li>}
      </ul>
    </section>
  );
}

/** What was seen of it; what was wrong is taken back, and stays. */
function Looks({ body }: { body: StoredBody }) {
  const { takeBack } = useLook(body.line.id, body.line.tag);
  if (body.looks.length === 0) return null;
  return (
    <section aria-label="Looks" className="mt-5">
      <h2 className="cap">Looks</h2>
      <ul className="border-b border-line">
        {body.looks.toReversed().map((l) => (
          <li key={l.id} className="flex min-h-12 flex-wrap items-center gap-x-4 border-t border-line">
            <span className={`text-[18px] font-[720] ${l.taken_back ? "text-soft line-through" : ""}`}>
              {l.look.rest_volts !== undefined && `${showNumber(l.look.rest_volts, 2)} V`}
              {l.look.charged && " charged full"}
              {l.look.drive_minutes ? ` driven ${l.look.drive_minutes} min` : ""}
            </span>
            <span className="text-soft">
              {dayAndTime(l.at)}, {l.by}
            </span>
            {l.taken_back ? (
              <span className="ml-auto text-soft">taken back</span>
            ) : (
              <button className="btn btn-quiet ml-auto" onClick={() => void takeBack(l.id)}>
                Take back
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

const notUndone = (error: Error) => say({ text: `Not undone. ${error.message}`, kind: "act" });

/** Another way is looked at: it is kept so with a tap. */
function KeepSo({ body, way, onDone }: { body: StoredBody; way: string; onDone: () => void }) {
  const queries = useQueryClient();
  const name = body.plan.ways.find((w) => w.way === way)?.name;
  const put = (to: string, version: number) =>
    got(
      api.PUT("/api/season/{id}", {
        params: { path: { id: body.line.id }, query: { version } },
        body: { ...body.doc, way: to } as unknown as string,
      }),
    );
  const change = useMutation({
    mutationFn: () => put(way, body.line.version),
    // The way it was: the news of the change may come ahead of the answer.
    onMutate: () => body.doc.way,
    onSuccess: (after, _, before) => {
      showStored(queries, after);
      onDone();
      say({
        text: `${body.line.tag}: ${name}.`,
        kind: "ok",
        act: {
          word: "Undo",
          run: () => void put(before, after.line.version).then((b) => showStored(queries, b), notUndone),
        },
      });
    },
  });
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3">
      <button className="btn btn-act" disabled={change.isPending} onClick={() => change.mutate()}>
        Keep it so from today
      </button>
      <button className="btn btn-line" onClick={onDone}>
        Back to how it is kept
      </button>
      {change.error && (
        <p role="alert" className="font-[560] text-oxide">
          {change.error.message}
        </p>
      )}
    </div>
  );
}

/** What else is done with it. */
function Acts({ body }: { body: StoredBody }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const wake = (awake: boolean) =>
    got(api.POST("/api/season/{id}/wake", { params: { path: { id: body.line.id } }, body: { awake } }));
  const woken = useMutation({
    mutationFn: wake,
    onSuccess: (after, awake) => {
      showStored(queries, after);
      if (!awake) return;
      void go("/season");
      say({
        text: `${body.line.tag} stands no longer.`,
        kind: "ok",
        act: { word: "Undo", run: () => void wake(false).then((b) => showStored(queries, b), notUndone) },
      });
    },
  });
  const sheet = useMutation({
    mutationFn: async (guide: "store" | "wake" | undefined) => {
      const { job_id } = await got(
        api.POST("/api/season/{id}/job", { params: { path: { id: body.line.id } }, body: { id: uuid() } }),
      );
      return guide ? `/jobs/${job_id}/guide/${guide}` : `/jobs/${job_id}`;
    },
    onSuccess: (to) => void go(to),
  });
  const error = woken.error ?? sheet.error;
  return (
    <div className="mt-5 flex flex-wrap gap-3">
      {body.woken_at ? (
        <button className="btn" onClick={() => woken.mutate(false)}>
          It still stands
        </button>
      ) : (
        <>
          <button className="btn btn-line" disabled={sheet.isPending} onClick={() => sheet.mutate("store")}>
            Put it away, step by step
          </button>
          <button className="btn btn-line" disabled={sheet.isPending} onClick={() => sheet.mutate("wake")}>
            Wake it up, step by step
          </button>
          <Link className="btn btn-line" to={`/season/${body.line.id}/change`}>
            Change
          </Link>
          <button className="btn btn-line" onClick={() => window.print()}>
            <Printer size={18} aria-hidden /> Print its tag
          </button>
          <button className="btn btn-line" disabled={woken.isPending} onClick={() => woken.mutate(true)}>
            It stands no longer
          </button>
        </>
      )}
      {body.job_id && (
        <Link className="btn btn-line" to={`/jobs/${body.job_id}`}>
          Its sheet
        </Link>
      )}
      {error && (
        <p role="alert" className="w-full font-[560] text-oxide">
          {error.message}
        </p>
      )}
    </div>
  );
}
