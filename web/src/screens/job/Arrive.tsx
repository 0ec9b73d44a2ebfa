import { useState } from "react";
import { api, got, type Sheet, type StationView } from "../../lib/api";
import { useChoices, useJobChange, usePerson } from "../../lib/queries";
import { Failure, Loading } from "../../parts/Failure";
import { detailsOf, entryOf, type Entry } from "../newjob/entry";
import { JobForm } from "../newjob/JobForm";
import { drawnFields, type Drawn } from "./entry";
import { Figure, Picking, small } from "./fields";
import { HandedOver, useMay } from "./HandedOver";
import { History } from "./History";
import { JobHistory } from "./JobHistory";
import { LabelPlate } from "./LabelPlate";
import { changedHere } from "./Meanwhile";
import { StationTitle } from "./Station";
import type { Entry as Asking } from "./useEntry";

/** What was entered when the job came in, to look at and to put right. */
export function Arrive(props: {
  n: number;
  sheet: Sheet;
  station: StationView;
  asking: Asking;
  onDone: (to: Sheet) => void;
}) {
  const { sheet } = props;
  const person = usePerson();
  const may = useMay(sheet);
  const choices = useChoices();
  const { job } = sheet;
  const [entry, setEntry] = useState<Entry>(() => entryOf(job, person.temperature));
  const save = useJobChange((battery: "same" | "other" | undefined) =>
    got(
      api.PUT("/api/jobs/{id}", {
        params: { path: { id: job.id }, query: battery ? { battery } : {} },
        body: { version: job.version, ...detailsOf(entry, choices.data!, person.temperature, job) },
      }),
    ),
  );
  const keep = (battery?: "same" | "other") =>
    save.mutate(battery, {
      onSuccess: (sheet) => {
        changedHere(sheet);
        props.onDone(sheet);
      },
    });
  if (choices.isPending) return <Loading what="the choices" />;
  if (choices.isError) return <Failure error={choices.error} retry={() => void choices.refetch()} />;
  return (
    <>
      <StationTitle n={props.n} name={props.station.name} hint={`opened by ${job.opened_by}`} sheet={sheet} />
      <div className="mb-4 md:hidden">
        <LabelPlate sheet={sheet} />
      </div>
      {!may.take && <HandedOver sheet={sheet} />}
      <fieldset disabled={!may.correct} className="min-w-0">
        <fieldset disabled={!may.take} className="min-w-0">
          <Interview station={props.station} asking={props.asking} sheet={sheet} />
        </fieldset>
        <JobForm
          choices={choices.data}
          entry={entry}
          onChange={(part) => setEntry((e) => ({ ...e, ...part }))}
          error={save.error}
          answer={keep}
          known
        />
        {may.correct && (
          <div className="mt-5 flex flex-wrap items-center gap-3">
            <button className="btn" disabled={save.isPending} onClick={() => keep()}>
              {save.isPending ? "Saving …" : "Save the changes"}
            </button>
            <button className="btn btn-line" onClick={() => props.onDone(sheet)}>
              Leave as it was
            </button>
          </div>
        )}
      </fieldset>
      <JobHistory sheet={sheet} />
    </>
  );
}

/** The questions that matter for this complaint, and what was answered. */
function Interview({ station, asking, sheet }: { station: StationView; asking: Asking; sheet: Sheet }) {
  const fields = drawnFields(station, asking.values);
  if (fields.length === 0) return null;
  const set = (d: Drawn) => (value: string) => asking.change({ [d.field.name]: value });
  return (
    <section aria-label="Questions" className="mb-4 border-b border-line pb-4">
      <h3 className="text-[18px] font-[740]">Ask whoever brings it</h3>
      <div className="mt-2 flex flex-wrap items-end gap-x-7 gap-y-3">
        {fields.map((d) =>
          small(d.field) ? (
            <div key={d.field.name} className="w-36">
              <Figure drawn={d} onChange={set(d)} error={asking.wrong?.at(d.field.name)} />
            </div>
          ) : (
            <Picking key={d.field.name} drawn={d} onChange={set(d)} />
          ),
        )}
        {!asking.fresh && (
          <button className="btn" onClick={asking.send} disabled={!asking.ready || asking.saving}>
            {asking.saving ? "Saving …" : "Save the answers"}
          </button>
        )}
      </div>
      {asking.failed && (
        <p role="alert" className="mt-1 text-oxide">
          {asking.failed.first}
        </p>
      )}
      <History all={sheet.readings} kinds={station.kinds.map((k) => k.code)} from={1} />
    </section>
  );
}
