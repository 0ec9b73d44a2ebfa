import { api, got, type Sheet } from "../../lib/api";
import { useJobChange, usePerson } from "../../lib/queries";
import { when } from "../../lib/time";

/** Opens a job that is handed over again. */
export const useReopen = (id: string) =>
  useJobChange(() => got(api.POST("/api/jobs/{id}/reopen", { params: { path: { id } } })));

/** What may still be done on a sheet: a job that is handed over takes corrections alone, and of a lead. */
export function useMay(sheet: Sheet) {
  const over = sheet.job.closed_at !== undefined;
  const lead = usePerson().role === "lead";
  return { take: !over, correct: !over || lead };
}

/** Why nothing is taken at a station, and the way to go on all the same. */
export function HandedOver({ sheet }: { sheet: Sheet }) {
  const may = useMay(sheet);
  const reopen = useReopen(sheet.job.id);
  return (
    <div className="mb-3 flex flex-wrap items-center justify-between gap-x-6 gap-y-2 border-l-4 border-slate bg-card px-4 py-2">
      <p className="min-w-0 flex-1 basis-[260px]">
        <b className="font-[680]">
          Handed over {when(sheet.job.closed_at!)} by {sheet.job.closed_by}.
        </b>{" "}
        {may.correct
          ? "You can correct what was taken; open it again to take more."
          : "A lead can correct what was taken; open it again to take more."}
        {reopen.error && (
          <span role="alert" className="block text-oxide">
            {reopen.error.message}
          </span>
        )}
      </p>
      <button className="btn btn-line" onClick={() => reopen.mutate(undefined)} disabled={reopen.isPending}>
        Open it again
      </button>
    </div>
  );
}
