import { useMutation, useQueryClient } from "@tanstack/react-query";
import { v7 as uuid } from "uuid";
import { reach, Refused, type Problem, type Sheet } from "./api";

/** Why a case file was not taken, one line for each thing wrong with it; or what has to be said first. */
export class NotTaken extends Error {
  constructor(
    readonly lines: string[],
    readonly asks = false,
  ) {
    super(lines.join(" "));
  }
}

type Sent = { file: File; battery?: "same" | "other" | undefined };

async function send({ file, battery }: Sent): Promise<Sheet> {
  let answer: Response;
  try {
    answer = await reach(`/api/cases?id=${uuid()}${battery ? `&battery=${battery}` : ""}`, {
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
  if (problem.type === "urn:grapnel:known-tag") throw new NotTaken([problem.detail ?? ""], true);
  const each = problem.errors?.map((e) => `${(e.location ?? "").replace(/^body\.?/, "") || file.name}: ${e.message}`);
  throw new NotTaken(each?.length ? each : [problem.detail ?? "The server did not say why."]);
}

/** Opens a job from a case file. */
export function useImport(opened: (jobID: string) => void) {
  const queries = useQueryClient();
  return useMutation<Sheet, NotTaken, Sent>({
    mutationFn: send,
    onSuccess: (sheet) => {
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      opened(sheet.job.id);
    },
  });
}
