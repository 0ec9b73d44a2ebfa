import { useMemo, useState } from "react";
import { api, got, Refused, type Judgement, type ReadingView, type Sheet, type StationView } from "../../lib/api";
import { useDraft } from "../../lib/draft";
import { isDown, useDown } from "../../lib/line";
import { putOff } from "../../lib/outbox";
import { useJobChange, usePerson, usePreview } from "../../lib/queries";
import { useSettled } from "../../lib/settled";
import { kindOf, readingOf, valuesOf, type Values } from "./entry";
import { withTester } from "./tester";

const none: Values = {};

/** How what is said of the entry stands: it is of the entry, is being worked out, or cannot be. */
export type Judging = "done" | "working" | "failed";

export type Entry = {
  values: Values;
  /** Fields set to undefined are as if they had not been touched. */
  change: (part: Record<string, string | undefined>) => void;
  /** Nothing has been typed or picked yet; a correction begins with what it corrects. */
  fresh: boolean;
  /** Whether there is a whole reading to send. */
  ready: boolean;
  send: () => void;
  saving: boolean;
  /** What cannot be, by the server's word; it is not offered to be saved. */
  wrong: Refused | undefined;
  /** Why saving failed; it can always be tried again. */
  failed: Refused | undefined;
  /** A reading that was saved by an earlier try, under the id this entry had. */
  first: string | undefined;
  /** What the sheet would say with it. */
  preview: Judgement | undefined;
  judging: Judging;
};

/** What was entered, as far as nobody has worked it out. */
function asTyped(station: StationView, values: Values): string {
  const kind = kindOf(station, values);
  const big = kind?.fields.find((f) => f.big);
  return big ? `${kind?.name} ${values[big.name]} ${big.unit ?? ""}` : (kind?.name ?? station.name);
}

/** What becomes of an entry: it is saved, or kept until the line is back. */
export type Outcome = { sheet?: Sheet; id: string; values: Values };

/**
 * The entry at a station: its draft, the preview of what it would mean, and its
 * saving. The id belongs to the draft, so saving twice makes one row. Nothing is
 * previewed while the entry is not shown.
 */
export function useEntry(
  sheet: Sheet,
  station: StationView,
  corrects: ReadingView | undefined,
  shown: boolean,
  done: (outcome: Outcome) => void,
): Entry {
  const jobID = sheet.job.id;
  const person = usePerson();
  const scale = person.temperature;
  const down = useDown();
  const start = useMemo(
    () => (corrects ? valuesOf(station, corrects.reading, scale) : none),
    // The fields of a station never change; a reading never does.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [station.code, corrects?.id, scale],
  );
  const replaces = corrects?.id;
  const name = `${jobID}.${station.code}${replaces ? "." + replaces : ""}`;
  const { draft, change, clear, renew } = useDraft<Values>(name, start);
  const reading =
    shown && station.kinds.length > 0
      ? withTester(readingOf(station, draft, scale, corrects?.reading), station, draft, corrects?.reading)
      : undefined;
  const settled = useSettled(reading, 160);
  const preview = usePreview(jobID, settled, replaces);
  const [first, setFirst] = useState<{ name: string; text: string }>();
  // What is saved is named, so that a failure at one station is not shown at another.
  const save = useJobChange<string>(() =>
    got(
      api.POST("/api/jobs/{id}/readings", {
        params: { path: { id: jobID } },
        body: { id: draft.id, reading: reading!, ...(replaces ? { replaces } : {}) },
      }),
    ),
  );
  const wrong =
    reading !== undefined && preview.error instanceof Refused && preview.error.status === 422
      ? preview.error
      : undefined;
  const same = JSON.stringify(settled) === JSON.stringify(reading);
  const end = (saved?: Sheet) => {
    const { id, ...values } = draft;
    clear();
    setFirst(undefined);
    done({ id, values, ...(saved ? { sheet: saved } : {}) });
  };
  const later = () => {
    putOff({
      id: draft.id,
      job: jobID,
      tag: sheet.job.battery.tag ?? "",
      kind: reading!.kind,
      text: (judging === "done" && preview.data?.entered?.text) || asTyped(station, draft),
      reading: { ...reading!, at: reading!.at ?? new Date().toISOString() },
      ...(replaces ? { replaces } : {}),
    });
    save.reset();
    end();
  };
  const fresh = Object.entries(draft).every(([field, value]) => field === "id" || value === (start[field] ?? ""));
  const ofThis = save.variables === name && save.error instanceof Refused ? save.error : undefined;
  const judging = ((): Judging => {
    if (reading === undefined || wrong) return "done";
    if (preview.isError && same) return "failed";
    return same && preview.isSuccess && !preview.isPlaceholderData ? "done" : "working";
  })();
  return {
    values: draft,
    change: (part) => {
      if (ofThis && !ofThis.taken) save.reset();
      change(part as Values);
    },
    fresh,
    ready: reading !== undefined && wrong === undefined,
    send: () => {
      if (reading === undefined || save.isPending) return;
      if (isDown()) return later();
      save.mutate(name, {
        onSuccess: end,
        onError: (error) => {
          if (!(error instanceof Refused)) return;
          if (error.lost) later();
          else if (error.taken) void firstKept();
        },
      });
    },
    saving: save.isPending,
    wrong,
    failed: ofThis?.lost || ofThis?.taken ? undefined : ofThis,
    first: first?.name === name ? first.text : undefined,
    preview: reading !== undefined && preview.isSuccess ? preview.data : undefined,
    judging: down && judging === "working" ? "failed" : judging,
  };

  /** An earlier try arrived after all: it is kept, and what is here now gets an id of its own. */
  async function firstKept() {
    const spent = draft.id;
    renew();
    const now = await got(api.GET("/api/jobs/{id}", { params: { path: { id: jobID } } })).catch(() => undefined);
    const kept = now?.readings.find((r) => r.id === spent);
    setFirst({ name, text: kept?.text ?? "An earlier reading" });
    save.reset();
  }
}
