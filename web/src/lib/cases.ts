import { useMutation, useQueryClient } from "@tanstack/react-query";
import { v7 as uuid } from "uuid";
import { Refused, type Problem, type Sheet } from "./api";

/** Why a case file was not taken, one line for each thing wrong with it. */
export class NotTaken extends Error {
  constructor(readonly lines: string[]) {
    super(lines.join(" "));
  }
}

async function send(file: File): Promise<Sheet> {
  let answer: Response;
  try {
    answer = await fetch(`/api/cases?id=${uuid()}`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: file,
    });
  } catch {
    throw new NotTaken(["The server cannot be reached. Try again."]);
  }
  if (answer.ok) return (await answer.json()) as Sheet;
  const problem = (await answer.json().catch(() => ({}))) as Problem;
  if (answer.status === 401) throw new Refused(401, problem);
  const each = problem.errors?.map((e) => `${(e.location ?? "").replace(/^body\.?/, "") || file.name}: ${e.message}`);
  throw new NotTaken(each?.length ? each : [problem.detail ?? "The server did not say why."]);
}

/** Opens a job from a case file. */
export function useImport(opened: (jobID: string) => void) {
  const queries = useQueryClient();
  return useMutation<Sheet, NotTaken, File>({
    mutationFn: send,
    onSuccess: (sheet) => {
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      opened(sheet.job.id);
    },
  });
}
