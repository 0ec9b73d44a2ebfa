import type { ReactNode } from "react";
import type { Sheet } from "../../lib/api";
import { LabelPlate } from "./LabelPlate";

/** The head of the open station: its name, what it is, and the battery's label. */
export function StationTitle(props: { n: number; name: string; hint: string; sheet: Sheet; children?: ReactNode }) {
  return (
    <div className="mb-2.5 flex flex-wrap items-start justify-between gap-x-5 gap-y-2">
      <div className="min-w-0">
        <h2
          tabIndex={-1}
          className="text-[21px] font-[760] outline-none md:text-[30px] md:leading-none"
          style={{ fontStretch: "88%" }}
        >
          {props.n} {props.name}
        </h2>
        <p className="mt-1 text-soft max-md:hidden">{props.hint}</p>
      </div>
      <div className="hidden min-w-0 md:block">
        <LabelPlate sheet={props.sheet} />
      </div>
    </div>
  );
}
