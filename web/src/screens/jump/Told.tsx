import { useState } from "react";
import type { Choices, JumpKit } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { showTemp } from "../../lib/units";
import { PickAny, PickOne } from "../../parts/Chips";
import { placeOf, sourceOf, type Call } from "./call";

type Props = {
  kit: JumpKit;
  choices: Choices;
  call: Call;
  change: (to: Partial<Call>) => void;
  /** Of a job its sheet knows vehicle, charge and hazards. */
  job: boolean;
};

const Row = ({ cap, children }: { cap: string; children: React.ReactNode }) => (
  <div>
    <p className="cap mb-1">{cap}</p>
    {children}
  </div>
);

/** What is asked of whoever calls, in taps: every answer has a usual one already. */
export function Told({ kit, choices, call, change, job }: Props) {
  const scale = usePerson().temperature;
  const [more, setMore] = useState(false);
  const usual = choices.classes.find((c) => c.class === call.class);
  const fuels = usual?.fuels ?? ["petrol"];
  const source = sourceOf(kit, call);
  const electric = call.class === "electric" || call.class === "hybrid";
  const words: Record<string, string> = { petrol: "Petrol", diesel: "Diesel", none: "Electric" };
  return (
    <div className="grid gap-x-8 gap-y-3 border-b border-line py-3 lg:grid-cols-2" data-testid="told">
      {!job && (
        <>
          <Row cap="What does not start">
            <PickOne
              first
              label="Vehicle"
              value={call.class}
              chips={choices.classes.map((c) => ({ code: c.class, word: c.word }))}
              onPick={(code) => {
                const next = choices.classes.find((c) => c.class === code)!;
                change({
                  class: code,
                  fuel: next.fuels[0] ?? "petrol",
                  volts: next.vehicle.system_volts ?? 12,
                  litres: undefined,
                  source: "",
                  ...placeOf(kit, code),
                });
              }}
            />
          </Row>
          <Row cap="What it does">
            <PickOne label="How flat" value={call.state} chips={kit.states} onPick={(state) => change({ state })} />
            <div className="mt-2">
              <PickAny
                label="Seen on the battery"
                value={call.hazards}
                chips={kit.hazards}
                onPick={(hazards) => change({ hazards })}
              />
            </div>
          </Row>
        </>
      )}
      {!electric && (
        <Row cap="Engine">
          <div className="flex flex-wrap gap-2">
            {!job && fuels.length > 1 && (
              <PickOne
                label="Fuel"
                value={call.fuel}
                chips={fuels.map((f) => ({ code: f, word: words[f] ?? f }))}
                onPick={(fuel) => change({ fuel })}
              />
            )}
            <PickOne
              label="Size"
              value={call.litres === undefined ? "unknown" : String(call.litres)}
              chips={[
                { code: "unknown", word: "Size not known" },
                ...kit.sizes.map((s) => ({ code: String(s.litres), word: s.word })),
              ]}
              onPick={(code) => change({ litres: code === "unknown" ? undefined : Number(code) })}
            />
          </div>
        </Row>
      )}
      <Row cap="What gives">
        <PickOne
          label="Source"
          value={source.code}
          chips={kit.sources}
          onPick={(code) => change({ source: code, mm2: undefined, metres: undefined })}
        />
      </Row>
      {!job && (
        <Row cap="How cold it stood">
          <PickOne
            label="Temperature"
            value={String(call.temp ?? kit.usual.battery_c)}
            chips={kit.temps_c.map((t) => ({
              code: String(t),
              word: `${showTemp(t, scale)} °${scale}`,
            }))}
            onPick={(t) => change({ temp: Number(t) })}
          />
        </Row>
      )}
      <div className="flex items-end">
        <button className="btn btn-quiet -ml-2.5" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? "Less" : "More: clamps, volts, boot, helper, maker, garage, drive"}
        </button>
      </div>
      {more && (
        <>
          {!job && (
            <Row cap="Its system">
              <PickOne
                label="System volts"
                value={String(call.volts)}
                chips={["6", "12", "24"].map((v) => ({ code: v, word: `${v} V` }))}
                onPick={(v) => change({ volts: Number(v), source: "" })}
              />
            </Row>
          )}
          <Row cap="The drive after it">
            <PickOne
              label="Drive"
              value={String(call.drive ?? kit.usual.drive_minutes)}
              chips={kit.drives_min.map((m) => ({ code: String(m), word: `${m} min` }))}
              onPick={(m) => change({ drive: Number(m) })}
            />
          </Row>
          <Row cap="Of what gives">
            <div className="flex flex-wrap gap-2">
              {source.kind === "vehicle" && (
                <PickOne
                  label="Its engine"
                  value={call.running ? "on" : "off"}
                  chips={[
                    { code: "on", word: "Engine runs" },
                    { code: "off", word: "Engine off" },
                  ]}
                  onPick={(on) => change({ running: on === "on" })}
                />
              )}
              {source.kind !== "charger" && (
                <PickOne
                  label="Its own charge"
                  value={String(call.soc ?? kit.usual.soc_pct)}
                  chips={kit.charges.map((c) => ({ code: String(c.soc_pct), word: c.word }))}
                  onPick={(soc) => change({ soc: Number(soc) })}
                />
              )}
              <PickOne
                label="Clamps"
                value={String(call.clamp ?? kit.usual.clamp_milliohms)}
                chips={kit.clamps.map((c) => ({ code: String(c.milliohms), word: c.word }))}
                onPick={(c) => change({ clamp: Number(c) })}
              />
            </div>
          </Row>
          <Row cap="The rest, where it is so">
            <PickAny
              label="The rest"
              value={[
                call.boot && "boot",
                call.post && "post",
                call.key && "key",
                call.makerPost && "maker",
                call.noGlow && "noglow",
                call.helper && "helper",
                call.garage && "garage",
                call.earth === "positive" && "earth",
              ].filter((c): c is string => typeof c === "string")}
              chips={[
                { code: "boot", word: "Battery in the boot" },
                { code: "post", word: "Jump post in front" },
                { code: "helper", word: "A helper is there" },
                { code: "maker", word: "Maker says: on the post" },
                ...(job ? [] : [{ code: "earth", word: "Positive earth" }]),
                { code: "key", word: "Smart key" },
                ...(call.fuel === "diesel" && !electric ? [{ code: "noglow", word: "No glow plugs" }] : []),
                { code: "garage", word: "Closed garage" },
              ]}
              onPick={(now) =>
                change({
                  boot: now.includes("boot"),
                  post: now.includes("post"),
                  key: now.includes("key"),
                  makerPost: now.includes("maker"),
                  noGlow: now.includes("noglow"),
                  helper: now.includes("helper"),
                  garage: now.includes("garage"),
                  ...(job ? {} : { earth: now.includes("earth") ? ("positive" as const) : ("negative" as const) }),
                })
              }
            />
          </Row>
        </>
      )}
    </div>
  );
}
