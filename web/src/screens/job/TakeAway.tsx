import { Download, Printer } from "lucide-react";

/** The sheet on paper, and as a file. */
export function TakeAway({ id }: { id: string }) {
  return (
    <>
      <button className="btn btn-quiet justify-start! md:w-full" onClick={() => window.print()}>
        <Printer size={18} aria-hidden /> Print
      </button>
      <a className="btn btn-quiet justify-start! md:w-full" href={`/api/jobs/${id}/case`} download>
        <Download size={18} aria-hidden /> Case file
      </a>
    </>
  );
}
