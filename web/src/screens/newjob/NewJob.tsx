import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, got, type Choices } from "../../lib/api";
import { useDraft } from "../../lib/draft";
import { useChoices, usePerson } from "../../lib/queries";
import { toScale } from "../../lib/units";
import { Failure, Loading } from "../../parts/Failure";
import { detailsOf, emptyEntry, JobForm } from "./JobForm";

export function NewJob() {
  const choices = useChoices();
  if (choices.isPending) return <Loading what="the choices" />;
  if (choices.isError) return <Failure error={choices.error} retry={() => void choices.refetch()} />;
  return <Form choices={choices.data} />;
}

function Form({ choices }: { choices: Choices }) {
  const person = usePerson();
  const { draft, change, clear } = useDraft("newjob", emptyEntry);
  const go = useNavigate();
  const queries = useQueryClient();
  // The temperature of the last job is a fair first guess, until the field is touched.
  const guess =
    choices.ambient_c === undefined ? "" : String(Math.round(toScale(choices.ambient_c, person.temperature)));
  const entry = { ...draft, ambient: draft.ambient ?? guess };
  const open = useMutation({
    mutationFn: () =>
      got(api.POST("/api/jobs", { body: { id: draft.id, ...detailsOf(entry, choices, person.temperature) } })),
    onSuccess: (sheet) => {
      clear();
      queries.setQueryData(["job", sheet.job.id], sheet);
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      void queries.invalidateQueries({ queryKey: ["choices"] });
      void go(`/jobs/${sheet.job.id}`);
    },
  });
  return (
    <div className="mx-auto max-w-[1320px] px-4 pt-4 pb-4 md:px-6">
      <h1 className="tight mb-3 text-[34px] leading-none font-[780]">New job</h1>
      <JobForm choices={choices} entry={entry} onChange={change} error={open.error} />
      <div className="sticky bottom-[var(--strip-h)] z-10 -mx-4 mt-4 flex flex-wrap items-center gap-3 border-t border-line bg-paper px-4 py-3 md:-mx-6 md:px-6">
        <button
          className="btn btn-act max-md:flex-1"
          disabled={!draft.cls || open.isPending}
          onClick={() => open.mutate()}
        >
          {open.isPending ? "Opening …" : "Open the job"}
        </button>
        <button className="btn btn-line" onClick={clear}>
          Start over
        </button>
        {!draft.cls && (
          <span className="text-soft max-md:w-full">Pick what it is for; the rest has a usual value.</span>
        )}
      </div>
    </div>
  );
}
