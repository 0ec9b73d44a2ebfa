import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, got, Refused, type Choices } from "../../lib/api";
import { useDraft } from "../../lib/draft";
import { useFirst } from "../../lib/first";
import { say } from "../../lib/notices";
import { showSheet, useChoices, usePerson } from "../../lib/queries";
import { toScale } from "../../lib/units";
import { Failure, Loading } from "../../parts/Failure";
import { detailsOf, emptyEntry, labelLine } from "./entry";
import { JobForm } from "./JobForm";

export function NewJob() {
  const choices = useChoices();
  if (choices.data) return <Form choices={choices.data} />;
  if (choices.isError) return <Failure error={choices.error} retry={() => void choices.refetch()} />;
  return <Loading what="the choices" />;
}

/** A job that an earlier try has opened after all. */
type Opened = { id: string; name: string };

function Form({ choices }: { choices: Choices }) {
  const person = usePerson();
  const { draft, change, clear, renew } = useDraft("newjob", emptyEntry);
  const [first, setFirst] = useState<Opened>();
  const go = useNavigate();
  const queries = useQueryClient();
  const place = useRef<HTMLFormElement>(null);
  useFirst(place, "newjob");
  // The temperature of the last job is a fair first guess, until the field is touched.
  const guess =
    choices.ambient_c === undefined ? "" : String(Math.round(toScale(choices.ambient_c, person.temperature)));
  const entry = { ...draft, ambient: draft.ambient ?? guess };
  const open = useMutation({
    mutationFn: (battery?: "same" | "other") =>
      got(
        api.POST("/api/jobs", {
          params: { query: battery ? { battery } : {} },
          body: { id: draft.id, ...detailsOf(entry, choices, person.temperature) },
        }),
      ),
    onSuccess: (sheet) => {
      clear();
      showSheet(queries, sheet);
      void queries.invalidateQueries({ queryKey: ["choices"] });
      // Back goes to where the job was begun from, not to an empty form.
      void go(`/jobs/${sheet.job.id}?at=${sheet.at}`, { replace: true });
    },
    onError: (error) => {
      if (error instanceof Refused && error.taken) void firstKept();
    },
  });
  /** An earlier try arrived after all: that job is open, and what is here now gets an id of its own. */
  async function firstKept() {
    const id = draft.id;
    renew();
    const sheet = await got(api.GET("/api/jobs/{id}", { params: { path: { id } } })).catch(() => undefined);
    if (sheet) setFirst({ id, name: [sheet.job.battery.tag, sheet.job.vehicle.name].join(" ") });
    open.reset();
  }
  const startOver = () => {
    const was = draft;
    clear();
    say({ text: "Started over.", act: { word: "Undo", run: () => change(was) } });
  };
  const ready = draft.cls !== "" && !open.isPending;
  return (
    <form
      ref={place}
      className="mx-auto max-w-[1320px] px-4 pt-3 pb-4 md:px-6"
      onSubmit={(e) => {
        e.preventDefault();
        if (ready) open.mutate(undefined);
      }}
    >
      <div className="mb-2 flex items-center justify-between gap-3">
        <h1 className="tight text-[28px] leading-none font-[780] md:text-[34px]">New job</h1>
        <button type="button" className="btn btn-quiet" onClick={startOver}>
          Start over
        </button>
      </div>
      {first && (
        <p role="alert" className="mb-3 border-l-4 border-copper bg-card px-3.5 py-2">
          <b className="font-[680]">{first.name} was opened: its opening had arrived.</b> What stands here now would be
          another job.{" "}
          <Link className="inline-block py-3 underline" to={`/jobs/${first.id}`}>
            Go to the one that is open
          </Link>
        </p>
      )}
      <JobForm choices={choices} entry={entry} onChange={change} error={open.error} answer={open.mutate} />
      <div className="openbar sticky bottom-[var(--strip-h)] z-10 -mx-4 mt-4 flex flex-wrap items-center gap-x-4 gap-y-1 border-t border-line bg-paper px-4 py-2.5 md:-mx-6 md:px-6">
        <button data-saves className="btn btn-act max-md:flex-1" disabled={!ready}>
          {open.isPending ? "Opening …" : "Open the job"} <kbd>Ctrl Enter</kbd>
        </button>
        {draft.cls ? (
          <a
            href="#label"
            className="flex min-h-12 min-w-0 flex-wrap content-center gap-x-1.5 leading-tight max-md:max-w-[50%]"
          >
            <b className="font-[680]">{labelLine(entry)}</b>
            <span className="text-soft underline underline-offset-4">change</span>
          </a>
        ) : (
          <span className="text-soft max-md:w-full">Pick what it is for; the rest has a usual value.</span>
        )}
      </div>
    </form>
  );
}
