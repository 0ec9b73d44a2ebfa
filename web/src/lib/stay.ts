import { v7 as uuid } from "uuid";
import { api, got, type Sheet } from "./api";
import { askForNotices } from "./calling";

export type StayKind = NonNullable<Sheet["stay"]>["kind"];

/** Leaves a battery alone for something; to warm, for as long as it takes where no minutes are given. */
export function beginStay(job: string, kind: StayKind, minutes?: number): Promise<Sheet> {
  askForNotices();
  return got(
    api.POST("/api/jobs/{id}/rests", {
      params: { path: { id: job } },
      body: { id: uuid(), kind, ...(minutes ? { minutes } : {}) },
    }),
  );
}
