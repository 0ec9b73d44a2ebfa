import { Link, useLocation, useSearchParams } from "react-router";
import { useAwake, useLoad } from "../lib/load";

const left = (s: number) =>
  s > 90 ? `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, "0")}` : String(Math.ceil(s));

/** A load that is on, seen from anywhere but its own station. */
export function LoadRunning() {
  const load = useLoad();
  useAwake(load !== undefined && load.left > 0);
  const { pathname } = useLocation();
  const [params] = useSearchParams();
  // A try on jump leads, and the minutes before it, belong to the planner.
  const jump = load && (load.station === "jump" || load.station === "leads");
  const at = !load
    ? ""
    : jump
      ? load.job === "road"
        ? "/jump"
        : `/jump?job=${load.job}`
      : `/jobs/${load.job}?at=${load.station}`;
  const here =
    load && (jump ? pathname === "/jump" : pathname === `/jobs/${load.job}` && params.get("at") === load.station);
  if (!load || here || load.entered) return null;
  const on = load.left > 0;
  return (
    <Link
      to={at}
      className={`flex min-h-12 items-center gap-3 px-4 font-[680] text-card md:px-6 ${on ? "bg-copper" : "bg-oxide"}`}
    >
      <b className="text-[26px] font-[800]" data-testid="load-elsewhere">
        {on ? left(load.left) : load.timer.stop}
      </b>
      <span>
        {load.tag}:{" "}
        {on
          ? load.station === "leads"
            ? load.timer.go
            : `${load.timer.go}, hold it`
          : jump
            ? "two minutes of rest before the next try"
            : "enter the volts of the last second"}
      </span>
      <span className="ml-auto underline underline-offset-4">Back to it</span>
    </Link>
  );
}
