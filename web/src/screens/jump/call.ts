import type { Choices, JumpKit, Sheet } from "../../lib/api";
import { keep, kept } from "../../lib/shelf";

/** What somebody told of a vehicle that does not start, and of what is at hand. */
export type Call = {
  class: string;
  fuel: string;
  litres?: number | undefined;
  volts: number;
  earth: "negative" | "positive";
  state: string;
  temp?: number | undefined;
  hazards: string[];
  boot: boolean;
  post: boolean;
  key: boolean;
  noGlow: boolean;
  source: string;
  running: boolean;
  rpm?: number | undefined;
  soc?: number | undefined;
  mm2?: number | undefined;
  metres?: number | undefined;
  clamp?: number | undefined;
  makerPost: boolean;
  helper: boolean;
  garage: boolean;
  drive?: number | undefined;
};

export const freshCall: Call = {
  class: "car",
  fuel: "petrol",
  litres: 1.6,
  volts: 12,
  earth: "negative",
  state: "clicks",
  hazards: [],
  boot: false,
  post: false,
  key: false,
  noGlow: false,
  source: "",
  running: true,
  makerPost: false,
  helper: false,
  garage: false,
};

const PLACE = "jump.";

/** The call this device was last asked about, of a job or from the roadside. */
export const lastCall = (job: string | undefined): Call => ({
  ...freshCall,
  // A sheet knows the label: its engine is what that is usual for until somebody says.
  ...(job ? { litres: undefined } : {}),
  ...kept<Partial<Call>>(PLACE + (job ?? "road")),
});

/** A call with the vehicle as its sheet has it, and where its battery mostly stands. */
export function onSheet(kit: JumpKit, call: Call, sheet: Sheet): Call {
  const { class: cls, fuel, earth, system_volts: volts } = sheet.job.vehicle;
  const untold = kept(PLACE + sheet.job.id) === undefined;
  return {
    ...call,
    class: cls,
    fuel: fuel ?? call.fuel,
    earth: earth ?? "negative",
    volts: volts ?? 12,
    ...(untold ? placeOf(kit, cls) : {}),
  };
}
/** Where the battery of a class mostly stands. */
export function placeOf(kit: JumpKit, cls: string) {
  const boot = kit.boot_classes.includes(cls);
  return { boot, post: boot };
}
export const keepCall = (job: string | undefined, call: Call) => keep(PLACE + (job ?? "road"), call);

/** The source that is meant: the one picked, else what the house takes first. */
export function sourceOf(kit: JumpKit, call: Call) {
  const usual = { 6: "six", 24: "truck" }[call.volts] ?? (kit.pack_first ? "pack" : "car");
  return (
    kit.sources.find((s) => s.code === call.source) ?? kit.sources.find((s) => s.code === usual) ?? kit.sources[0]!
  );
}

/** The call as a grapnel.jump_request/1 document; of a job without what its sheet knows. */
export function requestOf(kit: JumpKit, choices: Choices | undefined, call: Call, job: boolean): object | undefined {
  const usual = choices?.classes.find((d) => d.class === call.class);
  const state = kit.states.find((s) => s.code === call.state) ?? kit.states[0]!;
  const source = sourceOf(kit, call);
  if (!job && !usual) return undefined;
  const whole = {
    vehicle: {
      class: call.class,
      fuel: call.fuel,
      system_volts: call.volts,
      earth: call.earth,
      // A 24 V vehicle mostly has two of 12 V in a row.
      ...(call.volts === 24 ? { arrangement: "series" } : {}),
    },
    battery: usual && { chemistry: usual.battery.chemistry, rating: usual.battery.rating },
    soc_pct: state.soc_pct,
    soc_spread_pct: state.soc_spread_pct,
    battery_c: call.temp ?? kit.usual.battery_c,
    hazards: call.hazards,
  };
  return {
    format: "grapnel.jump_request/1",
    flat: {
      ...(job ? {} : whole),
      engine: { ...(call.litres ? { litres: call.litres } : {}), ...(call.noGlow ? { no_glow: true } : {}) },
      battery_place: call.boot ? "boot" : "front",
      jump_post: call.post,
      smart_key: call.key,
    },
    source: {
      kind: source.kind,
      system_volts: source.system_volts,
      ...(source.kind === "vehicle"
        ? {
            battery: source.battery,
            class: source.class,
            running: call.running,
            rpm: call.rpm ?? kit.usual.rpm,
            soc_pct: call.soc ?? kit.usual.soc_pct,
            ...(source.arrangement ? { arrangement: source.arrangement } : {}),
          }
        : {}),
      ...(source.kind === "pack" ? { peak_amps: source.peak_amps, soc_pct: call.soc ?? kit.usual.soc_pct } : {}),
      ...(source.kind === "charger" ? { boost_amps: source.boost_amps } : {}),
    },
    leads: {
      mm2: call.mm2 ?? source.mm2,
      metres: call.metres ?? source.metres,
      clamp_milliohms: call.clamp ?? kit.usual.clamp_milliohms,
    },
    ...(job ? {} : { clamp_on: kit.clamp_on }),
    maker_says_post: call.makerPost,
    helper: call.helper,
    closed_garage: call.garage,
    drive_minutes: call.drive ?? kit.usual.drive_minutes,
  };
}

/** Something turned up and down by a step. */
export type Stepper = JumpKit["dials"][number] & { value: number };

/** What of a call is turned by steps: copper, length, and revs where an engine runs. */
export function steppers(kit: JumpKit, call: Call): Stepper[] {
  const source = sourceOf(kit, call);
  const value = {
    mm2: call.mm2 ?? source.mm2,
    metres: call.metres ?? source.metres,
    rpm: call.rpm ?? kit.usual.rpm,
  };
  return kit.dials
    .filter((s) => s.code !== "rpm" || (source.kind === "vehicle" && call.running))
    .map((s) => ({ ...s, value: value[s.code] }));
}

/** A step less and a step more, where there is one. */
export const beside = (one: Stepper): [number | undefined, number | undefined] => [
  one.values.findLast((v) => v < one.value - 1e-9),
  one.values.find((v) => v > one.value + 1e-9),
];

/** The call after every step that can be taken from it. */
export const afterStep = (kit: JumpKit, call: Call): Call[] =>
  steppers(kit, call).flatMap((one) =>
    beside(one).flatMap((v) => (v === undefined ? [] : [{ ...call, [one.code]: v }])),
  );
