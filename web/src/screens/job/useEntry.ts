import { api, got, Refused, type Judgement, type Sheet, type StationView } from "../../lib/api";
import { useDraft } from "../../lib/draft";
import { useJobChange, usePerson, usePreview } from "../../lib/queries";
import { useSettled } from "../../lib/settled";
import { readingOf, type Values } from "./entry";

const none: Values = {};

export type Entry = {
  values: Values;
  change: (part: Values) => void;
  /** Whether there is a whole reading to send. */
  ready: boolean;
  send: () => void;
  saving: boolean;
  /** What cannot be, by the server's word; it is not offered to be saved. */
  wrong: Refused | undefined;
  /** Why saving failed; it can always be tried again. */
  failed: Refused | undefined;
  /** What the sheet would say with it. */
  preview: Judgement | undefined;
};

/**
 * The entry at a station: its draft, the preview of what it would mean, and its
 * saving. The id belongs to the draft, so saving twice makes one row. Nothing is
 * previewed while the entry is not shown.
 */
export function useEntry(
  sheet: Sheet,
  station: StationView,
  replaces: string | undefined,
  shown: boolean,
  onSaved: (sheet: Sheet) => void,
): Entry {
  const jobID = sheet.job.id;
  const person = usePerson();
  const name = `${jobID}.${station.code}${replaces ? "." + replaces : ""}`;
  const { draft, change, clear } = useDraft(name, none);
  const reading = shown && station.kind ? readingOf(station, draft, person.temperature) : undefined;
  const settled = useSettled(reading, 160);
  const preview = usePreview(jobID, settled, replaces);
  // What is saved is named, so that a failure at one station is not shown at another.
  const save = useJobChange<string>(jobID, () =>
    got(
      api.POST("/api/jobs/{id}/readings", {
        params: { path: { id: jobID } },
        body: { id: draft.id!, reading: reading!, ...(replaces ? { replaces } : {}) },
      }),
    ),
  );
  const wrong =
    reading !== undefined && preview.error instanceof Refused && preview.error.status === 422
      ? preview.error
      : undefined;
  return {
    values: draft,
    change,
    ready: reading !== undefined && wrong === undefined,
    send: () => {
      if (reading === undefined || save.isPending) return;
      save.mutate(name, {
        onSuccess: (saved) => {
          clear();
          onSaved(saved);
        },
      });
    },
    saving: save.isPending,
    wrong,
    failed: save.variables === name && save.error instanceof Refused ? save.error : undefined,
    preview: reading !== undefined && preview.isSuccess ? preview.data : undefined,
  };
}
