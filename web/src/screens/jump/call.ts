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
  temp: number;
  hazards: string[];
  /** Nobody has looked yet. */
  looked: boolean;
  boot: boolean;
  post: boolean;
  key: boolean;
  noGlow: boolean;
  source: string;
  running: boolean;
  rpm: number;
  soc: number;
  mm2?: number | undefined;
  metres?: number | undefined;
  clamp: number;
  makerPost: boolean;
  helper: boolean;
  garage: boolean;
  drive: number;
};

const fresh: Call = {
  class: "car",
  fuel: "petrol",
  litres: 1.6,
  volts: 12,
  earth: "negative",
  state: "clicks",
  temp: 5,
  hazards: [],
  looked: false,
  boot: false,
  post: false,
  key: false,
  noGlow: false,
  source: "",
  running: true,
  rpm: 750,
  soc: 95,
  clamp: 1,
  makerPost: false,
  helper: false,
  garage: false,
  drive: 15,
};

const PLACE = "jump.";

/** The call this device was last asked about, of a job or from the roadside. */
export const lastCall = (job: string | undefined): Call => ({
  ...fresh,
  // A sheet knows the label: its engine is what that is usual for until somebody says.
  ...(job ? { litres: undefined } : {}),
  ...kept<Partial<Call>>(PLACE + (job ?? "road")),
});

/** A call with the vehicle as its sheet has it; the battery of a hybrid is mostly in the boot, with a post in front. */
export function onSheet(call: Call, sheet: Sheet): Call {
  const { class: cls, fuel, earth, system_volts: volts } = sheet.job.vehicle;
  const untold = kept(PLACE + sheet.job.id) === undefined;
  return {
    ...call,
    class: cls,
    fuel: fuel ?? call.fuel,
    earth: earth ?? "negative",
    volts: volts ?? 12,
    ...(untold && cls === "hybrid" ? { boot: true, post: true } : {}),
  };
}
export const keepCall = (job: string | undefined, call: Call) => keep(PLACE + (job ?? "road"), call);
export const freshCall = fresh;

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
    battery_c: call.temp,
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
            rpm: call.rpm,
            soc_pct: call.soc,
            ...(source.pair ? { arrangement: source.system_volts === 24 ? "series" : "parallel" } : {}),
          }
        : {}),
      ...(source.kind === "pack" ? { peak_amps: source.peak_amps, soc_pct: call.soc } : {}),
      ...(source.kind === "charger" ? { boost_amps: source.boost_amps } : {}),
    },
    leads: {
      ...(call.mm2 ? { mm2: call.mm2 } : {}),
      ...(call.metres ? { metres: call.metres } : {}),
      clamp_milliohms: call.clamp,
    },
    ...(job ? {} : { clamp_on: kit.clamp_on }),
    maker_says_post: call.makerPost,
    helper: call.helper,
    closed_garage: call.garage,
    drive_minutes: call.drive,
  };
}

/** What leads are when nothing was said of them, by what gives. */
export const usualLeads: Record<string, { mm2: number; metres: number }> = {
  vehicle: { mm2: 25, metres: 3 },
  pack: { mm2: 16, metres: 0.6 },
  charger: { mm2: 10, metres: 1.8 },
};

/** Something turned up and down by a step. */
export type Stepper = {
  code: string;
  name: string;
  unit: string;
  value: number;
  digits: number;
  values: number[];
  to: (v: number) => Partial<Call>;
};

/** What of a call is turned by steps: copper, length, and revs where an engine runs. */
export function steppers(kit: JumpKit, call: Call): Stepper[] {
  const source = sourceOf(kit, call);
  const usual = usualLeads[source.kind]!;
  return [
    {
      code: "mm2",
      name: "lead copper",
      unit: "mm²",
      value: call.mm2 ?? usual.mm2,
      digits: 0,
      values: [6, ...kit.leads_mm2],
      to: (mm2) => ({ mm2 }),
    },
    {
      code: "metres",
      name: "lead length",
      unit: "m",
      value: call.metres ?? usual.metres,
      digits: 1,
      values: [0.6, 1, 1.5, 1.8, 2, 2.5, 3, 3.5, 4, 5, 6, 8],
      to: (metres) => ({ metres }),
    },
    ...(source.kind === "vehicle" && call.running
      ? [
          {
            code: "rpm",
            name: "donor revs",
            unit: "rpm",
            value: call.rpm,
            digits: 0,
            values: [750, 1500, 2000, 2500],
            to: (rpm: number) => ({ rpm }),
          },
        ]
      : []),
  ];
}

/** A step less and a step more, where there is one. */
export function beside(one: Stepper): [number | undefined, number | undefined] {
  const i = one.values.findIndex((v) => v >= one.value - 1e-9);
  return [one.values[i - 1], one.values[i + 1]];
}

/** The call after every step that can be taken from it. */
export const afterStep = (kit: JumpKit, call: Call): Call[] =>
  steppers(kit, call).flatMap((one) =>
    beside(one).flatMap((v) => (v === undefined ? [] : [{ ...call, ...one.to(v) }])),
  );
