import { v7 as uuid } from "uuid";
import { api, got, type Sheet } from "./api";

/** Takes a reading back; it stays in the history. */
export const withdraw = (job: string, reading: string): Promise<Sheet> =>
  got(
    api.POST("/api/jobs/{id}/readings/{reading}/withdraw", {
      params: { path: { id: job, reading } },
      body: { id: uuid() },
    }),
  );
