import { Link } from "react-router";
import type { Sheet } from "../../lib/api";
import { Sign } from "../../parts/Sign";

const words = {
  clean: { begin: "Clean it, step by step", name: "Cleaning" },
  water: { begin: "Fill its cells, step by step", name: "Watering" },
  replace: { begin: "Replace it, step by step", name: "Replacing" },
  store: { begin: "Put it away, step by step", name: "Putting away" },
  wake: { begin: "Wake it up, step by step", name: "Waking" },
} as const;

/** The way into a guide: begun, or gone on with where it was left. */
export function GuideHere({ sheet, what, act }: { sheet: Sheet; what: keyof typeof words; act?: boolean }) {
  const running = sheet.guides.find((g) => g.what === what);
  return (
    <Link to={`/jobs/${sheet.job.id}/guide/${what}`} className={`btn ${act || running ? "btn-act" : "btn-line"}`}>
      {running ? `Go on ${words[what].name.toLowerCase()} · ${running.done} of ${running.of}` : words[what].begin}
    </Link>
  );
}

/** Guides that run, and what is off: at the top of the sheet, until all is back. */
export function GuidesRunning({ sheet }: { sheet: Sheet }) {
  const { guides, off, job } = sheet;
  if (guides.length === 0 && off.length === 0 && !sheet.follows && !sheet.followed_by) return null;
  return (
    <div className="screen-only mb-2 flex flex-col gap-1.5">
      {guides.map((g) => (
        <Link
          key={g.what}
          to={`/jobs/${job.id}/guide/${g.what}`}
          className="flex min-h-12 items-center gap-3 border-l-4 border-copper bg-card px-4 py-1.5 hover:bg-hush"
        >
          <Sign kind="act" bare />
          <span className="min-w-0 flex-1">
            <b className="font-[680]">
              {words[g.what].name}, {g.done} of {g.of}
            </b>
            {g.do && `: next, ${g.do.charAt(0).toLowerCase()}${g.do.slice(1)}`}
          </span>
          <span aria-hidden className="text-soft">
            ›
          </span>
        </Link>
      ))}
      {off.length > 0 && guides.length === 0 && (
        <p className="flex items-center gap-3 border-l-4 border-copper bg-card px-4 py-2">
          <Sign kind="act" bare />
          <span>
            <b className="font-[680]">{off.every((p) => p.stored) ? "Put away without:" : "Still off:"}</b>{" "}
            {off.map((p) => p.word).join(", ")}.{" "}
            <Link className="underline underline-offset-4" to={`/jobs/${off[0]!.job_id}/guide/${off[0]!.what}`}>
              {off.every((p) => p.stored) ? "Wake it up" : "Put it back"}
            </Link>
          </span>
        </p>
      )}
      {(sheet.follows ?? sheet.followed_by) && (
        <p className="px-1 text-[15px] text-soft">
          <Link className="underline underline-offset-4" to={`/jobs/${sheet.follows ?? sheet.followed_by}`}>
            {sheet.follows ? "The battery that stood here before" : "The battery that took its place"}
          </Link>
        </p>
      )}
    </div>
  );
}
