import { Cable, ChartSpline, Download, Printer } from "lucide-react";
import { Link } from "react-router";
import { printing } from "../../lib/papers";
import { PaperLink } from "../../parts/Paper";

/** To its life and a jump start; the sheet on paper, and as a file. */
export function TakeAway({ id, tag }: { id: string; tag: string }) {
  return (
    <>
      <Link className="btn btn-quiet justify-start! md:w-full" to={`/register/${encodeURIComponent(tag)}`}>
        <ChartSpline size={18} aria-hidden /> Its life
      </Link>
      <Link className="btn btn-quiet justify-start! md:w-full" to={`/jump?job=${id}`}>
        <Cable size={18} aria-hidden /> Jump start
      </Link>
      <PaperLink to={`/api/jobs/${id}/report?${printing()}`} quiet>
        Report
      </PaperLink>
      <button className="btn btn-quiet justify-start! md:w-full" onClick={() => window.print()}>
        <Printer size={18} aria-hidden /> Print
      </button>
      <a className="btn btn-quiet justify-start! md:w-full" href={`/api/jobs/${id}/case`} download>
        <Download size={18} aria-hidden /> Case file
      </a>
    </>
  );
}
