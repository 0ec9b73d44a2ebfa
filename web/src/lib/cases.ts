import { useMutation, useQueryClient } from "@tanstack/react-query";
import { v7 as uuid } from "uuid";
import { reach, Refused, type Problem, type Sheet } from "./api";

/** Why a case file was not taken, one line for each thing wrong with it; or what has to be said first. */
export class NotTaken extends Error {
  constructor(
    readonly lines: string[],
    /** What to do: mend the file, say whose battery it is, or send it again, since it may have arrived. */
    readonly so: "mend" | "say" | "again" = "mend",
  ) {
    super(lines.join(" "));
  }
}

type Sent = { file: File; battery?: "same" | "other" | undefined };

/** The id under which each file is sent: chosen again after a failure, it is not opened twice. */
const ids = new Map<string, string>();
const nameOf = (file: File) => [file.name, file.size, file.lastModified].join("/");

function idOf(file: File): string {
  const id = ids.get(nameOf(file)) ?? uuid();
  ids.set(nameOf(file), id);
  return id;
}

/** Sends a case file to be opened as a job, and says why it was not taken. */
export async function sendCase({ file, battery }: Sent): Promise<Sheet> {
  let answer: Response;
  try {
    answer = await reach(`/api/cases?id=${idOf(file)}${battery ? `&battery=${battery}` : ""}`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: file,
    });
  } catch {
    throw new NotTaken(["No answer came, so it may be open already. Send it again: it is not opened twice."], "again");
  }
  if (answer.ok) {
    ids.delete(nameOf(file));
    return (await answer.json()) as Sheet;
  }
  const problem = (await answer.json().catch(() => ({}))) as Problem;
  if (answer.status === 401) throw new Refused(401, problem);
  if (problem.type === "urn:grapnel:known-tag") throw new NotTaken([problem.detail ?? ""], "say");
  if (answer.status >= 500) throw new NotTaken([problem.detail ?? "The server did not say why."], "again");
  // The same file was changed and saved under its name, or its job has been changed since.
  if (problem.type === "urn:grapnel:taken") ids.delete(nameOf(file));
  const each = problem.errors?.map((e) => `${(e.location ?? "").replace(/^body\.?/, "") || file.name}: ${e.message}`);
  throw new NotTaken(each?.length ? each : [problem.detail ?? "The server did not say why."]);
}

/** Opens a job from a case file. */
export function useImport(opened: (jobID: string) => void) {
  const queries = useQueryClient();
  return useMutation<Sheet, NotTaken, Sent>({
    mutationFn: sendCase,
    onSuccess: (sheet) => {
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      opened(sheet.job.id);
    },
  });
}
