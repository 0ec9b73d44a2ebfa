import type { Reading, StationView } from "../../lib/api";
import { kept } from "../../lib/shelf";
import { kindOf, type Values } from "./entry";

/** Kinds of reading taken with a tester of the workshop: testers are compared with each other. */
const tested = ["load_test", "conductance"];

/** Where this device remembers the tester of a kind of reading. */
export const shelf = (kind: string) => `tester.${kind}`;

/** Which tester it is read with: as it is typed, or as it was on this device the last time. */
export function testerOf(station: StationView, values: Values): string | undefined {
  const kind = kindOf(station, values)?.code ?? "";
  if (!tested.includes(kind)) return undefined;
  return values.tester ?? kept<string>(shelf(kind)) ?? "";
}

/** A reading with the tester it was taken with. */
export function withTester(
  reading: Reading | undefined,
  station: StationView,
  values: Values,
  corrected?: Reading,
): Reading | undefined {
  const tester = testerOf(station, values)?.trim();
  if (!reading || tester === undefined) return reading;
  const { instrument, ...rest } = reading;
  const name = corrected && values.tester === undefined ? instrument : tester;
  return (name ? { ...rest, instrument: name } : rest) as Reading;
}
