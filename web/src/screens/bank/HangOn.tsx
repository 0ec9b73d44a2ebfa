import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, Refused, type Bank, type ChargerView, type Sheet } from "../../lib/api";
import { say } from "../../lib/notices";
import { showSheet, useChargePlan, useSheet } from "../../lib/queries";
import { withdraw } from "../../lib/withdraw";
import { PickOne } from "../../parts/Chips";
import { Sign } from "../../parts/Sign";
import { ChargePlanned } from "../../parts/ChargePlanned";
import type { Place } from "./place";
import { kindWord } from "./words";

type Props = { bank: Bank; charger: ChargerView | undefined; job: string | undefined; open: (to: Place) => void };

/** A free charger and a battery: by its tag, or the one whose turn it is; what the charge will do, and on it goes. */
export function HangOn({ bank, charger, job, open }: Props) {
  const turn = charger && bank.waiting.find((w) => w.charger_id === charger.id);
  const id = job ?? turn?.job_id;
  return (
    <div>
      {charger && (
        <div className="flex flex-wrap items-baseline gap-x-3">
          <h2 className="tight text-[28px] leading-none font-[780]">Charger {charger.unit.name}</h2>
          <p className="min-w-0 flex-1 text-soft">
            {kindWord[charger.unit.kind]} {charger.unit.amps} A{charger.unit.where && `, ${charger.unit.where}`}
            {charger.hung ? `, taken by ${charger.hung.tag}` : ", free"}
          </p>
          <button className="btn btn-quiet" onClick={() => open({ edit: charger.id })}>
            The charger
          </button>
        </div>
      )}
      <ByTag onFound={(found) => open({ ...(charger ? { charger: charger.id } : {}), job: found })} />
      {id ? (
        <Planned key={`${id} ${charger?.id}`} bank={bank} charger={charger} job={id} open={open} />
      ) : (
        <p className="mt-4 text-soft">
          {bank.waiting.length === 0
            ? "Nothing waits for a charger. Scan or type a tag to hang a battery on."
            : "Nothing that waits suits this charger. Scan or type a tag to hang a battery on all the same."}
        </p>
      )}
    </div>
  );
}

/** A battery by its tag, scanned or typed: a scanner types it and ends with Enter. */
function ByTag({ onFound }: { onFound: (job: string) => void }) {
  const [tag, setTag] = useState("");
  const find = useMutation({
    mutationFn: (typed: string) => got(api.GET("/api/bank/tagged", { params: { query: { tag: typed } } })),
    onSuccess: ({ job_id }) => {
      setTag("");
      onFound(job_id);
    },
  });
  const unknown = find.error instanceof Refused && find.error.status === 404;
  return (
    <form
      className="mt-2"
      onSubmit={(e: FormEvent) => {
        e.preventDefault();
        if (tag.trim()) find.mutate(tag.trim());
      }}
    >
      <div className="flex max-w-[440px] gap-2">
        <input
          data-first
          aria-label="Scan or type a tag"
          className="field"
          value={tag}
          maxLength={40}
          autoComplete="off"
          autoCapitalize="characters"
          placeholder="scan or type a tag"
          onChange={(e) => setTag(e.target.value)}
          aria-invalid={find.isError ? true : undefined}
        />
        <button className="btn btn-line" disabled={find.isPending || !tag.trim()}>
          Take it
        </button>
      </div>
      {find.error && (
        <p role="alert" className="mt-1.5 font-[560] text-oxide">
          {find.error.message}{" "}
          {unknown && (
            <Link className="underline" to="/jobs/new">
              New job
            </Link>
          )}
        </p>
      )}
    </form>
  );
}

/** What the charge of this battery on this charger will do, and the tap that says it hangs there. */
function Planned({ bank, charger, job, open }: Props & { job: string }) {
  const queries = useQueryClient();
  const sheet = useSheet(job);
  const [id] = useState(() => uuid());
  const [amps, setAmps] = useState<number>();
  const [place, setPlace] = useState<"bench" | "vehicle">("bench");
  const plan = useChargePlan(
    job,
    charger && {
      charger: charger.id,
      ...(amps ? { amps } : {}),
      ...(place === "vehicle" ? { in_vehicle: true } : {}),
    },
  );
  const hang = useMutation({
    mutationFn: (to: string) =>
      got(
        api.POST("/api/bank/hang", {
          body: {
            id,
            charger_id: to,
            job_id: job,
            ...(plan.data ? { amps: plan.data.amps } : {}),
            in_vehicle: place === "vehicle",
          },
        }),
      ),
    onSuccess: (now: Sheet) => {
      showSheet(queries, now);
      void queries.invalidateQueries({ queryKey: ["bank"] });
      open({ charger: charger!.id });
      const back = () =>
        withdraw(job, id).then(
          (was) => showSheet(queries, was),
          (error: Error) => say({ text: `Not taken back. ${error.message}`, kind: "act" }),
        );
      say({
        text: `${now.job.battery.tag} hangs on ${charger!.unit.name}. Look at it in half an hour.`,
        kind: "ok",
        act: { word: "Undo", run: () => void back() },
      });
    },
  });
  const waits = bank.waiting.find((w) => w.job_id === job);
  const free = bank.chargers.filter((c) => !c.hung);
  const switches = charger?.unit.rates ?? [];
  const tag = sheet.data?.job.battery.tag ?? waits?.tag ?? "";
  return (
    <section className="mt-3 border-t border-line pt-2" aria-label={`Hang on ${tag}`}>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h3 className="tight text-[26px] leading-tight font-[780]">{tag}</h3>
        <p className="min-w-0 flex-1 text-[16px]">
          {sheet.data?.job.vehicle.name ?? waits?.vehicle}
          {waits && <span className="text-soft">, {waits.soc_pct} % charged</span>}
        </p>
        {waits && <p className="text-[14.5px] text-soft">{waits.why}</p>}
      </div>
      <div className="mt-2 flex flex-wrap gap-x-7 gap-y-2">
        {free.length > 0 && (
          <div>
            <p className="cap mb-1">On charger</p>
            <PickOne
              label="On charger"
              value={charger?.id}
              onPick={(to) => open({ charger: to, job })}
              chips={free.map((c) => ({
                code: c.id,
                word: `${c.unit.name} ${kindWord[c.unit.kind]} ${c.unit.amps} A${waits && !waits.suits.includes(c.id) ? ", not for it" : ""}`,
              }))}
            />
          </div>
        )}
        {charger && (
          <>
            {switches.length > 0 && plan.data && (
              <div>
                <p className="cap mb-1">Its switch</p>
                <PickOne
                  label="Its switch"
                  value={String(plan.data.amps)}
                  onPick={(a) => setAmps(Number(a))}
                  chips={switches.map((a) => ({ code: String(a), word: `${a} A` }))}
                />
              </div>
            )}
            <div>
              <p className="cap mb-1">Where</p>
              <PickOne
                label="Where"
                value={place}
                onPick={(to) => setPlace(to as "bench" | "vehicle")}
                chips={[
                  { code: "bench", word: "Out, on the bench" },
                  { code: "vehicle", word: "In the vehicle" },
                ]}
              />
            </div>
          </>
        )}
      </div>
      {charger?.hung && (
        <p className="mt-3 flex items-center gap-2 font-[640]">
          <Sign kind="wait" bare /> {charger.hung.tag} hangs on {charger.unit.name}: take that off first.
        </p>
      )}
      {plan.error && (
        <p role="alert" className="mt-3 font-[560] text-oxide">
          {plan.error.message}
        </p>
      )}
      {plan.data && (
        <ChargePlanned plan={plan.data} grey={plan.isPlaceholderData}>
          {charger && !charger.hung && plan.data.allowed && (
            <button
              data-saves
              className="btn btn-act min-h-14! w-full text-[19px]! md:w-auto"
              disabled={hang.isPending || plan.isPlaceholderData}
              onClick={() => hang.mutate(charger.id)}
            >
              {hang.isPending ? "Saving …" : `It hangs on ${charger.unit.name}, at ${plan.data.amps} A`}
            </button>
          )}
        </ChargePlanned>
      )}
      {hang.error && (
        <p role="alert" className="mt-2 font-[560] text-oxide">
          {hang.error.message}
        </p>
      )}
    </section>
  );
}
