import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { v7 as uuid } from "uuid";
import { api, got, Refused } from "../../lib/api";
import { isDown, serverNow } from "../../lib/line";
import { say } from "../../lib/notices";
import { putOff, type Look } from "../../lib/outbox";
import { showStored } from "../../lib/queries";

export type Seen = Omit<Look, "stored" | "at">;

const wordsOf = (look: Seen) =>
  [
    look.rest_volts !== undefined && `${look.rest_volts} V`,
    look.charged && "charged full",
    look.drive_minutes && `driven ${look.drive_minutes} min`,
  ]
    .filter(Boolean)
    .join(", ");

/**
 * Keeps what was seen of a stored battery, on this device while there is no line. Its id is
 * made with it, so that saving again after a lost answer makes no double.
 */
export function useLook(stored: string, tag: string) {
  const queries = useQueryClient();
  const trying = useRef<{ seen: string; id: string; at: string }>(undefined);
  const save = useMutation({
    scope: { id: `look ${stored}` },
    networkMode: "always",
    mutationFn: async (seen: Seen) => {
      const same = JSON.stringify(seen);
      if (trying.current?.seen !== same)
        trying.current = { seen: same, id: uuid(), at: new Date(serverNow()).toISOString() };
      const { id, at } = trying.current;
      const later = () => {
        putOff({ id, job: "", tag, kind: "look", text: wordsOf(seen), look: { stored, at, ...seen } });
        trying.current = undefined;
        return "kept" as const;
      };
      if (isDown()) return later();
      try {
        const body = await got(
          api.POST("/api/season/{id}/looks", { params: { path: { id: stored } }, body: { id, at, ...seen } }),
        );
        trying.current = undefined;
        showStored(queries, body);
        say({
          text: `${tag}: ${wordsOf(seen)}.`,
          kind: "ok",
          act: { word: "Undo", run: () => void takeBack(id) },
        });
        return "saved" as const;
      } catch (error) {
        if (error instanceof Refused && error.lost) return later();
        throw error;
      }
    },
  });
  const takeBack = (look: string) =>
    got(api.POST("/api/season/{id}/looks/{look}/withdraw", { params: { path: { id: stored, look } } })).then(
      (body) => showStored(queries, body),
      (error: Error) => say({ text: `Not taken back. ${error.message}`, kind: "act" }),
    );
  return { save, takeBack };
}
