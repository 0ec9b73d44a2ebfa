import type { QueryClient } from "@tanstack/react-query";
import { v7 as uuid } from "uuid";
import type { Reading } from "../../lib/api";
import { tick } from "../../lib/outbox";

/** Puts a reading into the log, in its turn with what is ticked. */
export function sendReading(queries: QueryClient, job: string, tag: string, reading: Reading, text: string) {
  tick(queries, {
    id: uuid(),
    job,
    tag,
    kind: reading.kind,
    text,
    reading: { ...reading, at: new Date().toISOString() },
  });
}
