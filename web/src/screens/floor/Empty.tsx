import { Link } from "react-router";
import { useJobs } from "../../lib/queries";

/** Nothing to list: why, and what to do. */
export function Empty(props: { closed: boolean; find: string; filtered: boolean; stale: boolean }) {
  const { closed, find } = props;
  if (props.stale) return <p className="border-t border-line py-8 text-soft">Looking …</p>;
  if (props.filtered)
    return (
      <p className="border-t border-line py-8 text-[17px]">Nothing in hand is like that. Choose another, or all.</p>
    );
  if (find)
    return (
      <p className="border-t border-line py-8">
        No {closed ? "closed" : "open"} job has “{find}” in its tag, vehicle, customer, notes or findings.{" "}
        <Link
          className="inline-block py-3 underline"
          to={{ search: `?${new URLSearchParams({ find, ...(closed ? {} : { show: "closed" }) })}` }}
        >
          Look among the {closed ? "open" : "closed"} ones
        </Link>
        .
      </p>
    );
  return closed ? (
    <p className="border-t border-line py-8 text-[17px]">Nothing has been handed over yet.</p>
  ) : (
    <ClearBench />
  );
}

const steps = [
  ["New job", "What it is for, what the customer says, what the label says: four taps."],
  ["Rest volts", "Let it rest, then read the meter across the posts. It tells how full it is."],
  ["Load test", "Only when it is charged enough: else a flat battery looks like a bad one."],
  ["Decide", "Charge it, replace it, hand it over or look elsewhere, with every reason."],
];

/** A floor with nothing on it teaches the way through a job. */
function ClearBench() {
  const closed = useJobs({ closed: true, find: "", most: 1 });
  return (
    <div className="border-t border-line py-6">
      <p className="text-[17px]">
        The bench is clear.{closed.data?.jobs.length === 0 && " A first job goes like this:"}
      </p>
      <ol className="mt-3 grid max-w-[900px] gap-x-8 sm:grid-cols-2">
        {steps.map(([name, what], i) => (
          <li key={name} className="grid grid-cols-[30px_1fr] border-t border-line py-3">
            <b className="text-[22px] leading-none font-[760] text-copper">{i + 1}</b>
            <span>
              <b className="block font-[700]">{name}</b>
              <span className="text-soft">{what}</span>
            </span>
          </li>
        ))}
      </ol>
      <Link to="/jobs/new" className="btn btn-act mt-4">
        Open the first job <kbd>n</kbd>
      </Link>
    </div>
  );
}
