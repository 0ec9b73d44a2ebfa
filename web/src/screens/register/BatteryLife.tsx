import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";
import { api, got, Refused, type LifeBody } from "../../lib/api";
import { useLife } from "../../lib/queries";
import { onDay } from "../../lib/time";
import { keep, showNumber } from "../../lib/units";
import { Failure, Loading } from "../../parts/Failure";
import { Nowhere } from "../../parts/Nowhere";
import { Sign, tone } from "../../parts/Sign";
import { LifeLine } from "./LifeLine";

/** One battery from when it was made. */
export function BatteryLife() {
  const { tag = "" } = useParams();
  const life = useLife(tag);
  if (life.error instanceof Refused && life.error.status === 404)
    return <Nowhere what="There is no battery with this tag." more="It may belong to another workshop." />;
  if (life.isPending) return <Loading what="its life" />;
  if (life.isError && !life.data) return <Failure error={life.error} retry={() => void life.refetch()} />;
  return <Shown key={tag} body={life.data} />;
}

function Shown({ body }: { body: LifeBody }) {
  const { life, battery } = body;
  useEffect(() => {
    document.title = `${body.tag} ${body.vehicle} · Grapnel`;
    return () => {
      document.title = "Grapnel";
    };
  }, [body]);
  const r = battery.rating;
  return (
    <div className="mx-auto max-w-[1280px] px-4 py-4 md:px-6">
      <Link className="text-[14px] text-soft underline underline-offset-4" to="/register">
        Register
      </Link>
      <div className="mt-1 flex flex-wrap items-start justify-between gap-x-8 gap-y-3">
        <div className="min-w-0">
          <h1 tabIndex={-1} className="tight text-[38px] leading-none font-[800] outline-none">
            {body.tag}
          </h1>
          <p className="mt-1.5">
            <Link
              className="font-[640] underline underline-offset-4"
              to={`/register?find=${encodeURIComponent(body.vehicle)}`}
              aria-label={`${body.vehicle}: all its batteries`}
            >
              {body.vehicle}
            </Link>
            {body.customer && <span className="text-soft"> · {body.customer}</span>}
          </p>
          <p className="text-[14px] text-soft">
            {[
              body.build,
              r.cca !== undefined && `${r.cca} CCA ${r.standard ?? "SAE"}`,
              r.ah_20h !== undefined && `${r.ah_20h} Ah`,
              life.years !== undefined && `${showNumber(life.years, 1)} years`,
            ]
              .filter(Boolean)
              .join(" · ")}
          </p>
        </div>
        <div className="lg:max-w-[560px] lg:text-right">
          {life.now_pct && (
            <p className="text-[64px] leading-none font-[780] tracking-tight" data-testid="now">
              {Math.round(life.now_pct.best)}
              <span className="unit">% of its label</span>
            </p>
          )}
          <p
            className={`mt-1.5 flex items-baseline gap-2.5 text-[18px] leading-snug font-[620] lg:justify-end ${life.fails?.week ? tone.act : "text-ink"}`}
          >
            {life.fails?.week && (
              <span className="translate-y-0.5">
                <Sign kind="act" />
              </span>
            )}
            {keep(life.says)}
          </p>
        </div>
      </div>
      <div className="mt-4">
        <LifeLine life={life} twin={body.twin_life} now={body.now} />
      </div>
      <div className="mt-6 grid gap-x-10 gap-y-6 md:grid-cols-[minmax(0,1fr)_340px]">
        <section aria-label="Jobs">
          <p className="cap">
            {body.jobs.length} {body.jobs.length === 1 ? "job" : "jobs"}
          </p>
          <ul className="border-b border-line">
            {body.jobs.map((j) => (
              <li key={j.job} className="border-t border-line">
                <Link to={`/jobs/${j.job}`} className="flex min-h-14 items-center gap-3.5 py-2 hover:bg-hush">
                  <span className="w-[104px] shrink-0 text-[15px] text-soft">{onDay(j.opened_at)}</span>
                  <Sign kind={j.level} />
                  <span className="min-w-0">
                    <b className="font-[620]">{j.headline}</b>
                    {j.note && <span className="block truncate text-[14px] text-soft">“{j.note}”</span>}
                  </span>
                  {!j.closed_at && <span className="ml-auto shrink-0 text-[14px] text-soft">in hand</span>}
                </Link>
              </li>
            ))}
          </ul>
        </section>
        <Pairing key={body.twin ?? ""} body={body} />
      </div>
    </div>
  );
}

/** The other battery of the vehicle, and what the two are as a pair. */
function Pairing({ body }: { body: LifeBody }) {
  const [typed, setTyped] = useState<string>();
  const queries = useQueryClient();
  const set = useMutation({
    mutationFn: (tag: string) =>
      got(api.PUT("/api/batteries/{tag}/twin", { params: { path: { tag: body.tag } }, body: { tag } })),
    onSuccess: (answer) => {
      queries.setQueryData(["life", body.tag], answer);
      void queries.invalidateQueries({ queryKey: ["life"] });
      void queries.invalidateQueries({ queryKey: ["register"] });
    },
  });
  return (
    <section aria-label="Its twin">
      <p className="cap">Carries the vehicle together with</p>
      {body.pair ? (
        <>
          <Link
            to={`/register/${encodeURIComponent(body.pair.tag)}`}
            className="flex min-h-12 items-center gap-3 border-t border-line hover:bg-hush"
          >
            <b className="text-[19px] font-[740]">{body.pair.tag}</b>
            <span className="min-w-0 truncate">{body.pair.vehicle}</span>
          </Link>
          <p className={`flex items-baseline gap-2.5 text-[16px] font-[600] ${tone[body.pair.level]}`}>
            <span className="translate-y-0.5">
              <Sign kind={body.pair.level} />
            </span>
            {keep(body.pair.text)}
          </p>
          <button className="btn btn-quiet mt-1" disabled={set.isPending} onClick={() => set.mutate("")}>
            They are no pair
          </button>
        </>
      ) : typed === undefined ? (
        <div className="border-t border-line pt-2">
          <p className="text-[15px] text-soft">No other battery.</p>
          <button className="btn btn-line mt-2" onClick={() => setTyped("")}>
            Name its twin
          </button>
        </div>
      ) : (
        <form
          className="flex flex-wrap gap-2 border-t border-line pt-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (typed.trim()) set.mutate(typed.trim());
          }}
        >
          <input
            className="field min-w-0 flex-1"
            aria-label="Tag of the other battery"
            placeholder="K-0099"
            value={typed}
            autoFocus
            onChange={(e) => setTyped(e.target.value)}
          />
          <button className="btn" disabled={!typed.trim() || set.isPending}>
            Pair them
          </button>
        </form>
      )}
      {set.error && (
        <p role="alert" className="mt-2 border-l-4 border-oxide px-3 py-1 text-oxide">
          {set.error.message}
        </p>
      )}
    </section>
  );
}
