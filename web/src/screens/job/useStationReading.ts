import { useEffect } from "react";
import { api, got, Refused, type Judgement, type Reading, type Sheet } from "../../lib/api";
import { useJobChange, usePreview } from "../../lib/queries";
import { useSettled } from "../../lib/settled";

/**
 * Previews a reading while it is being entered and saves it. The id belongs to
 * the draft, so saving twice makes one row.
 */
export function useStationReading(
  sheet: Sheet,
  reading: Reading | undefined,
  replaces: string | undefined,
  onPreview: (j: Judgement | undefined) => void,
  draftID: string,
  onSaved: () => void,
) {
  const jobID = sheet.job.id;
  const settled = useSettled(reading, 160);
  const preview = usePreview(jobID, settled, replaces);
  const current = reading !== undefined && preview.isSuccess ? preview.data : undefined;
  useEffect(() => onPreview(current), [current, onPreview]);
  useEffect(() => () => onPreview(undefined), [onPreview]);
  const save = useJobChange(jobID, () =>
    got(
      api.POST("/api/jobs/{id}/readings", {
        params: { path: { id: jobID } },
        body: { id: draftID, reading: reading!, ...(replaces ? { replaces } : {}) },
      }),
    ),
  );
  // What cannot be, by the server's word, is not offered to be saved; a save
  // that failed for another reason can always be tried again.
  const wrong =
    reading !== undefined && preview.error instanceof Refused && preview.error.status === 422
      ? preview.error
      : undefined;
  const send = () => {
    if (reading && !save.isPending) save.mutate(undefined, { onSuccess: onSaved });
  };
  return { send, saving: save.isPending, wrong, failed: save.error instanceof Refused ? save.error : undefined };
}
