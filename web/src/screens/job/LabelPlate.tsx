import type { Sheet } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { showTemp } from "../../lib/units";

/** The battery's label as a plate. */
export function LabelPlate({ sheet: { job } }: { sheet: Sheet }) {
  const person = usePerson();
  const { battery, vehicle, conditions, build, battery_volts } = job;
  const r = battery.rating;
  const cells: [string, string, string][] = [];
  if (r.cca !== undefined) cells.push([r.typical ? "typical" : build, String(r.cca), `CCA ${r.standard ?? "SAE"}`]);
  else if (r.ca !== undefined) cells.push([r.typical ? "typical" : build, String(r.ca), "CA"]);
  if (battery_volts !== 12 || vehicle.earth === "positive" || cells.length === 0)
    cells.push([
      r.cca !== undefined && r.typical ? build : "nominal",
      String(battery_volts),
      vehicle.earth === "positive" ? "V, earth +" : "V",
    ]);
  if (r.ah_20h !== undefined) cells.push(["20 h", String(r.ah_20h), "Ah"]);
  if (r.rc_min !== undefined) cells.push(["reserve", String(r.rc_min), "min"]);
  if (battery.made) cells.push(["made", month(battery.made), ""]);
  if (conditions?.battery_c !== undefined)
    cells.push(["battery", showTemp(conditions.battery_c, person.temperature), `°${person.temperature}`]);
  return (
    <dl className="flex max-w-full flex-wrap overflow-hidden rounded-[5px] border-[1.5px] border-ink bg-card text-[13px]">
      {cells.map(([name, figure, unit], i) => (
        <div key={name + i} className={`px-2 py-1.5 whitespace-nowrap ${i ? "border-l border-line" : ""}`}>
          <dt className="cap">{name}</dt>
          <dd className="text-[17px] leading-tight font-[750]">
            {figure}
            {unit && <span className="ml-0.5 text-[12px] font-[560] text-soft">{unit}</span>}
          </dd>
        </div>
      ))}
    </dl>
  );
}

const month = (iso: string) => {
  const [year = "", m = "1"] = iso.split("-");
  return `${new Date(2000, Number(m) - 1).toLocaleString("en", { month: "short" })} ${year.slice(2)}`;
};
