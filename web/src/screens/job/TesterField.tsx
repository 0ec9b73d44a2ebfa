import { useId } from "react";
import type { StationView } from "../../lib/api";
import { keep } from "../../lib/shelf";
import { kindOf } from "./entry";
import { shelf, testerOf } from "./tester";
import type { Entry } from "./useEntry";

/** The mark on the tester, remembered on this device. */
export function TesterField({ station, entry }: { station: StationView; entry: Entry }) {
  const id = useId();
  const tester = testerOf(station, entry.values);
  if (tester === undefined) return null;
  const kind = kindOf(station, entry.values)!.code;
  return (
    <div>
      <label className="cap block" htmlFor={id}>
        Tester, as it is marked
      </label>
      <input
        id={id}
        className="field"
        value={tester}
        maxLength={80}
        placeholder="none"
        autoComplete="off"
        onChange={(e) => {
          entry.change({ tester: e.target.value });
          keep(shelf(kind), e.target.value);
        }}
      />
    </div>
  );
}
