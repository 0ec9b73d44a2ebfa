import type { Caution, Sheet } from "../../lib/api";
import { CautionRow } from "../../parts/CautionLine";
import { LabelPlate } from "./LabelPlate";

/** The head of the open station: its name, what it is, and the battery's label. */
export function StationTitle(props: {
  n: number;
  name: string;
  hint: string;
  sheet: Sheet;
  /** Where there is little room, the cautions of the step stand beside its name. */
  cautions?: Caution[];
}) {
  return (
    <div className="mb-1 grid items-start md:mb-2.5 gap-x-5 md:grid-cols-[minmax(0,1fr)_auto]">
      <div className="flex min-w-0 flex-wrap items-center gap-x-3 md:block">
        <h2
          tabIndex={-1}
          className="text-[21px] font-[760] outline-none md:text-[30px] md:leading-none"
          style={{ fontStretch: "88%" }}
        >
          {props.n} {props.name}
        </h2>
        {props.cautions && <CautionRow cautions={props.cautions} />}
        {!props.cautions && <p className="mt-0.5 text-[14px] leading-snug text-soft max-md:hidden">{props.hint}</p>}
      </div>
      <div className="hidden min-w-0 md:block">
        <LabelPlate sheet={props.sheet} />
      </div>
    </div>
  );
}
