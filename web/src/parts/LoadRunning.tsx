import { Link, useLocation, useSearchParams } from "react-router";
import { useAwake, useLoad } from "../lib/load";

/** A load that is on, seen from anywhere but its own station. */
export function LoadRunning() {
  const load = useLoad();
  useAwake(load !== undefined && load.left > 0);
  const { pathname } = useLocation();
  const [params] = useSearchParams();
  const here = load && pathname === `/jobs/${load.job}` && params.get("at") === load.station;
  if (!load || here || load.entered) return null;
  const on = load.left > 0;
  return (
    <Link
      to={`/jobs/${load.job}?at=${load.station}`}
      className={`flex min-h-12 items-center gap-3 px-4 font-[680] text-card md:px-6 ${on ? "bg-copper" : "bg-oxide"}`}
    >
      <b className="text-[26px] font-[800]" data-testid="load-elsewhere">
        {on ? Math.ceil(load.left) : load.timer.stop}
      </b>
      <span>
        {load.tag}: {on ? `${load.timer.go}, hold it` : "enter the volts of the last second"}
      </span>
      <span className="ml-auto underline underline-offset-4">Back to it</span>
    </Link>
  );
}
