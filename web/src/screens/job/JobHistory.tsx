import { useQuery } from "@tanstack/react-query";
import { Collapsible } from "radix-ui";
import { useState } from "react";
import { api, got, type Sheet } from "../../lib/api";
import { Failure, Loading } from "../../parts/Failure";
import { Changes } from "../history/Changes";

/** What was changed of a job beside its readings. */
export function JobHistory({ sheet }: { sheet: Sheet }) {
  const [open, setOpen] = useState(false);
  const { id, version } = sheet.job;
  const history = useQuery({
    queryKey: ["job", id, "history", version, sheet.job.closed_at],
    queryFn: () => got(api.GET("/api/jobs/{id}/history", { params: { path: { id }, query: { most: 1000 } } })),
    enabled: open,
  });
  return (
    <Collapsible.Root className="mt-5" open={open} onOpenChange={setOpen}>
      <Collapsible.Trigger className="btn btn-quiet px-0!">What was changed of this job</Collapsible.Trigger>
      <Collapsible.Content>
        {history.isPending && <Loading what="its history" />}
        {history.isError && <Failure error={history.error} retry={() => void history.refetch()} />}
        {history.data && <Changes changes={history.data.changes} ofJob />}
        {history.data && history.data.all > history.data.changes.length && (
          <p className="py-2 text-soft">
            The newest {history.data.changes.length} of {history.data.all}. A lead finds all in the shop’s history.
          </p>
        )}
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
