import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, type ChargerView, type HungView, type Sheet } from "../../lib/api";
import { say } from "../../lib/notices";
import { showSheet, useCharge } from "../../lib/queries";
import { beginStay } from "../../lib/stay";
import { withdraw } from "../../lib/withdraw";
import { ChargeCurve, ofCharge } from "../../parts/ChargeCurve";
import { Doing } from "../../parts/Doing";
import type { Place } from "./place";
import { LookTaps } from "./LookTaps";
import { kindWord } from "./words";

/** A battery on a charger: what its charge does, a look at it in two taps, and off it comes. */
export function OnIt({ charger, hung, open }: { charger: ChargerView; hung: HungView; open: (to: Place) => void }) {
  const charge = useCharge(hung.job_id, "bank", true);
  const { unit } = charger;
  return (
    <div>
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1">
        <h2 className="tight text-[28px] leading-none font-[780]">{hung.tag}</h2>
        <p className="min-w-0 truncate text-[16px] max-md:flex-1 max-md:basis-[60%] max-xl:flex-1">
          {hung.vehicle}
          <span className="text-soft">
            {" "}
            on {unit.name}, {kindWord[unit.kind]} {hung.amps ?? unit.amps} A
          </span>
        </p>
        <Link className="btn btn-quiet max-md:-ml-2.5" to={`/jobs/${hung.job_id}`}>
          Its sheet
        </Link>
        <button className="btn btn-quiet" onClick={() => open({ edit: charger.id })}>
          The charger
        </button>
      </div>
      {charge.data ? (
        <>
          <Doing sign={charge.data.follows.sign} text={charge.data.follows.text} act={charge.data.follows.do} />
          {/* With little room what is tapped comes before what is looked at. */}
          <div className="grid gap-x-6 gap-y-4 xl:grid-cols-[minmax(0,1fr)_300px]">
            <div className="min-w-0">
              <ChargeCurve {...ofCharge(charge.data)} />
              {charge.data.found && <p className="mt-1 text-[15px]">{charge.data.found.text}</p>}
              {charge.data.rule_of_thumb && <p className="mt-1 text-[14px] text-soft">{charge.data.rule_of_thumb}</p>}
            </div>
            <div className="min-w-0 max-xl:order-first max-xl:mt-2 xl:-mt-[74px]">
              <LookTaps job={hung.job_id} tag={hung.tag} charge={charge.data} />
              <TakeOff hung={hung} charger={charger} />
            </div>
          </div>
        </>
      ) : (
        <>
          <p className="mt-3 text-soft">
            {charge.isError ? charge.error.message : "Working out what its charge will do …"}
          </p>
          <TakeOff hung={hung} charger={charger} />
        </>
      )}
    </div>
  );
}

/** Off the charger: full, or before. */
function TakeOff({ hung, charger }: { hung: HungView; charger: ChargerView }) {
  const queries = useQueryClient();
  const [id] = useState(() => uuid());
  const rest = (sheet: Sheet) =>
    beginStay(hung.job_id, "rest", sheet.rest_minutes).then(
      (now) => showSheet(queries, now),
      (error: Error) => say({ text: `Its rest is not started. ${error.message}`, kind: "act" }),
    );
  const back = () =>
    withdraw(hung.job_id, id).then(
      (now) => showSheet(queries, now),
      (error: Error) => say({ text: `Not taken back. ${error.message}`, kind: "act" }),
    );
  const off = useMutation({
    mutationFn: (ended: "full" | "stopped") =>
      got(
        api.POST("/api/jobs/{id}/readings", {
          params: { path: { id: hung.job_id } },
          body: { id, reading: { kind: "charged", ended } },
        }),
      ),
    onSuccess: (sheet) => {
      showSheet(queries, sheet);
      say({
        text: `${hung.tag} is off ${charger.unit.name}.`,
        kind: "ok",
        act: { word: "Let it rest", run: () => void rest(sheet) },
        more: [{ word: "Undo", run: () => void back() }],
      });
    },
  });
  return (
    <div className="mt-5 border-t border-line pt-3">
      <p className="cap">Take it off: at the wall first</p>
      <div className="mt-1.5 grid grid-cols-2 gap-2">
        <button className="btn btn-line px-2!" disabled={off.isPending} onClick={() => off.mutate("full")}>
          It is full
        </button>
        <button className="btn btn-line px-2!" disabled={off.isPending} onClick={() => off.mutate("stopped")}>
          Before that
        </button>
      </div>
      {off.error && (
        <p role="alert" className="mt-2 font-[560] text-oxide">
          {off.error.message}
        </p>
      )}
    </div>
  );
}
