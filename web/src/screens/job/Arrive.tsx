import { useState } from "react";
import { api, got, type Sheet, type StationView } from "../../lib/api";
import { useChoices, useJobChange, usePerson } from "../../lib/queries";
import { Failure, Loading } from "../../parts/Failure";
import { detailsOf, entryOf, type Entry } from "../newjob/entry";
import { JobForm } from "../newjob/JobForm";
import { LabelPlate } from "./LabelPlate";
import { StationTitle } from "./Station";

/** What was entered when the job came in, to look at and to put right. */
export function Arrive(props: { n: number; sheet: Sheet; station: StationView; onDone: (to: Sheet) => void }) {
  const { sheet } = props;
  const person = usePerson();
  const choices = useChoices();
  const { job } = sheet;
  const [entry, setEntry] = useState<Entry>(() => entryOf(job, person.temperature));
  const save = useJobChange((version: number) =>
    got(
      api.PUT("/api/jobs/{id}", {
        params: { path: { id: job.id } },
        body: { version, ...detailsOf(entry, choices.data!, person.temperature, job) },
      }),
    ),
  );
  if (choices.isPending) return <Loading what="the choices" />;
  if (choices.isError) return <Failure error={choices.error} retry={() => void choices.refetch()} />;
  return (
    <>
      <StationTitle n={props.n} name={props.station.name} hint={`opened by ${job.opened_by}`} sheet={sheet} />
      <div className="mb-4 md:hidden">
        <LabelPlate sheet={sheet} />
      </div>
      <JobForm
        choices={choices.data}
        entry={entry}
        onChange={(part) => setEntry((e) => ({ ...e, ...part }))}
        error={save.error}
        known
      />
      <div className="mt-5 flex flex-wrap items-center gap-3">
        <button
          className="btn"
          disabled={save.isPending}
          onClick={() => save.mutate(job.version, { onSuccess: props.onDone })}
        >
          {save.isPending ? "Saving …" : "Save the changes"}
        </button>
        <button className="btn btn-line" onClick={() => props.onDone(sheet)}>
          Leave as it was
        </button>
      </div>
    </>
  );
}
