import { Collapsible } from "radix-ui";
import type { ReactNode } from "react";
import { Refused, type Choices, type ClassDefault, type JobDetails } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { fromScale, readNumber, toScale, type Scale } from "../../lib/units";
import { PickAny, PickOne } from "../../parts/Chips";
import { NumberEntry } from "../../parts/NumberEntry";

/** The form as it is typed: figures are text until they are sent. */
export type Entry = {
  cls: string;
  fuel: string;
  volts: string;
  earth: string;
  arrangement: string;
  chemistry: string;
  caps: string;
  cca: string;
  standard: string;
  ah: string;
  rc: string;
  ca: string;
  typical: boolean;
  made: string;
  complaint: string[];
  tag: string;
  name: string;
  customer: string;
  note: string;
  ambient: string;
  battery: string;
};

/** An entry whose shop temperature nobody has touched yet has none. */
export type Draft = Omit<Entry, "ambient"> & { ambient?: string };

export const emptyEntry: Draft = {
  cls: "", fuel: "", volts: "12", earth: "negative", arrangement: "single", chemistry: "flooded", caps: "removable",
  cca: "", standard: "SAE", ah: "", rc: "", ca: "", typical: true, made: "", complaint: [],
  tag: "", name: "", customer: "", note: "", battery: "",
}; // prettier-ignore

const text = (v: number | undefined) => (v === undefined ? "" : String(v));
const temp = (c: number | undefined, scale: Scale) =>
  c === undefined ? "" : String(Math.round(toScale(c, scale) * 10) / 10);

/** What is usual for a class, in place of what is not yet known. */
function fromClass(d: ClassDefault): Partial<Entry> {
  const { vehicle: v, battery: b } = d;
  return {
    cls: d.class, fuel: v.fuel ?? "petrol", volts: text(v.system_volts ?? 12), earth: v.earth ?? "negative", arrangement: v.arrangement ?? "single",
    chemistry: b.chemistry, caps: b.caps ?? "sealed", cca: text(b.rating.cca), standard: b.rating.standard ?? "SAE",
    ah: text(b.rating.ah_20h), rc: text(b.rating.rc_min), ca: "", typical: true,
  }; // prettier-ignore
}

export function entryOf(job: JobDetails, scale: Scale): Entry {
  const { vehicle: v, battery: b } = job;
  const r = b.rating;
  return {
    cls: v.class, fuel: v.fuel ?? "petrol", volts: text(v.system_volts ?? 12), earth: v.earth ?? "negative", arrangement: v.arrangement ?? "single",
    chemistry: b.chemistry, caps: b.caps ?? "sealed", cca: text(r.cca), standard: r.standard ?? "SAE", ah: text(r.ah_20h), rc: text(r.rc_min),
    ca: text(r.ca), typical: r.typical ?? false, made: b.made ?? "", complaint: job.complaint ?? [], tag: b.tag ?? "", name: v.name ?? "",
    customer: job.customer ?? "", note: job.note ?? "", ambient: temp(job.conditions?.ambient_c, scale), battery: temp(job.conditions?.battery_c, scale),
  }; // prettier-ignore
}

/** A figure to send: left out when empty; what is no number is sent as it is, so that the server names the field. */
function figure(typed: string): number | undefined {
  if (typed.trim() === "") return undefined;
  return readNumber(typed) ?? (typed as unknown as number);
}

const celsius = (typed: string, scale: Scale) => {
  const v = figure(typed);
  return typeof v === "number" ? Math.round(fromScale(v, scale) * 100) / 100 : v;
};

const some = <T extends object>(o: T) =>
  Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined && v !== "")) as T;

/** The details to send. What the form does not show is kept from what was there. */
export function detailsOf(e: Entry, choices: Choices, scale: Scale, old?: JobDetails): JobDetails {
  const cls = choices.classes.find((c) => c.class === e.cls);
  return {
    vehicle: some({
      ...old?.vehicle,
      class: e.cls as JobDetails["vehicle"]["class"],
      name: e.name.trim() || cls?.word,
      fuel: e.fuel as NonNullable<JobDetails["vehicle"]["fuel"]>,
      system_volts: Number(e.volts) as 6 | 8 | 12 | 24,
      earth: e.earth as "negative" | "positive",
      arrangement: e.arrangement as "single" | "parallel" | "series",
      high_voltage: cls?.vehicle.high_voltage,
    }),
    battery: some({
      ...old?.battery,
      chemistry: e.chemistry as JobDetails["battery"]["chemistry"],
      caps: e.caps as "removable" | "sealed",
      terminals: old?.battery.terminals ?? cls?.battery.terminals,
      tag: e.tag.trim(),
      made: e.made,
      rating: some({
        cca: figure(e.cca),
        standard: e.standard as "SAE",
        ah_20h: figure(e.ah),
        rc_min: figure(e.rc),
        ca: figure(e.ca),
        typical: e.typical || undefined,
      }),
    }),
    customer: e.customer.trim(),
    note: e.note.trim(),
    complaint: e.complaint,
    conditions: some({ ambient_c: celsius(e.ambient, scale), battery_c: celsius(e.battery, scale) }),
  };
}

type Props = {
  choices: Choices;
  entry: Entry;
  onChange: (part: Partial<Entry>) => void;
  error: Error | null;
  known?: boolean;
};

export function JobForm({ choices, entry: e, onChange, error, known = false }: Props) {
  const person = usePerson();
  const refused = error instanceof Refused ? error : undefined;
  const cls = choices.classes.find((c) => c.class === e.cls);
  const label = (part: Partial<Entry>) => onChange({ ...part, typical: false });
  return (
    <div className="grid gap-x-10 gap-y-5 lg:grid-cols-[1.22fr_1fr]">
      <div className="grid content-start gap-5">
        <Part title="What is it for?">
          <PickOne
            label="Vehicle class"
            chips={choices.classes.map((c) => ({ code: c.class, word: c.word }))}
            value={e.cls}
            onPick={(code) => {
              const d = choices.classes.find((c) => c.class === code);
              if (d) onChange(fromClass(d));
            }}
          />
          {cls && <System entry={e} cls={cls} words={choices.words} onChange={onChange} />}
          {refused?.at("system_volts") && <Wrong text={refused.at("system_volts")!} />}
        </Part>
        <Part title="What is the complaint?">
          <PickAny
            label="Complaint"
            chips={choices.words.complaint ?? []}
            value={e.complaint}
            onPick={(complaint) => onChange({ complaint })}
          />
          <input
            className="field mt-2"
            aria-label="In the customer’s words"
            placeholder="in the customer’s words"
            maxLength={500}
            value={e.note}
            onChange={(ev) => onChange({ note: ev.target.value })}
          />
        </Part>
      </div>
      <div className={`grid content-start gap-5 ${cls ? "" : "pointer-events-none opacity-40"}`} inert={!cls}>
        <Part title="What does the label say?">
          {cls && !known && (
            <PickOne
              label="Label sizes usual here"
              chips={cls.labels.map((s, i) => ({ code: String(i), word: `${s.cca} CCA · ${s.ah_20h} Ah` }))}
              value={
                e.typical
                  ? undefined
                  : String(cls.labels.findIndex((s) => String(s.cca) === e.cca && String(s.ah_20h) === e.ah))
              }
              onPick={(i) => {
                const s = cls.labels[Number(i)];
                if (s) label({ cca: text(s.cca), ah: text(s.ah_20h), rc: text(s.rc_min), standard: "SAE" });
              }}
            />
          )}
          {e.typical && (
            <p className="mt-2 text-[14px] text-soft">
              Filled in as usual for the class. Pick or type what the label says; until then every verdict says the
              rating is only typical.
            </p>
          )}
          <div className="mt-3 grid grid-cols-3 gap-x-5 gap-y-3">
            <NumberEntry
              label={`CCA ${e.standard}`}
              unit="A"
              value={e.cca}
              onChange={(cca) => label({ cca })}
              error={refused?.at("cca")}
            />
            <NumberEntry
              label="20 h capacity"
              unit="Ah"
              value={e.ah}
              onChange={(ah) => label({ ah })}
              error={refused?.at("ah_20h")}
            />
            <NumberEntry
              label="Reserve"
              unit="min"
              value={e.rc}
              onChange={(rc) => label({ rc })}
              error={refused?.at("rc_min")}
            />
          </div>
          <div className="mt-3">
            <PickOne
              label="Build"
              chips={choices.words.chemistry ?? []}
              value={e.chemistry}
              onPick={(c) => onChange({ chemistry: c, caps: choices.caps[c] ?? "sealed" })}
            />
          </div>
          <More entry={e} choices={choices} label={label} onChange={onChange} refused={refused} />
        </Part>
        <Part title="Whose is it, how cold is it?">
          <div className="grid grid-cols-2 gap-3">
            <Field
              name="Shop tag"
              value={e.tag}
              onChange={(tag) => onChange({ tag })}
              placeholder={known ? "" : `${choices.next_tag} (next)`}
              max={40}
            />
            <Field
              name="Vehicle"
              value={e.name}
              onChange={(name) => onChange({ name })}
              placeholder={cls?.word ?? "Vehicle"}
              max={80}
            />
            <Field
              name="Customer"
              value={e.customer}
              onChange={(customer) => onChange({ customer })}
              placeholder="name or account"
              max={120}
            />
            <div className="grid grid-cols-2 gap-3">
              <NumberEntry
                label="Shop"
                unit={`°${person.temperature}`}
                value={e.ambient}
                onChange={(ambient) => onChange({ ambient })}
                error={refused?.at("ambient_c")}
              />
              <NumberEntry
                label="Battery"
                unit={`°${person.temperature}`}
                value={e.battery}
                onChange={(battery) => onChange({ battery })}
                error={refused?.at("battery_c")}
              />
            </div>
          </div>
          <p className="mt-1.5 text-[13.5px] text-soft">
            The battery lags the shop by 6 to 8 hours. Left empty, it is taken to be as warm as the shop.
          </p>
        </Part>
        {refused && <Wrong text={refused.message} />}
      </div>
    </div>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section>
      <h2 className="mb-2 text-[18px] font-[740]" style={{ fontStretch: "92%" }}>
        {title}
      </h2>
      {children}
    </section>
  );
}

const Wrong = ({ text }: { text: string }) => (
  <p role="alert" className="mt-1.5 font-[560] text-oxide">
    {text}
  </p>
);

function Field(props: {
  name: string;
  value: string;
  onChange: (v: string) => void;
  placeholder: string;
  max: number;
}) {
  return (
    <label className="block min-w-0">
      <span className="cap">{props.name}</span>
      <input
        className="field mt-0.5"
        value={props.value}
        maxLength={props.max}
        placeholder={props.placeholder}
        onChange={(e) => props.onChange(e.target.value)}
        autoComplete="off"
      />
    </label>
  );
}

/** Fuel, volts, earth and arrangement: right for nearly all, so folded to a line. */
function System({
  entry: e,
  cls,
  words,
  onChange,
}: {
  entry: Entry;
  cls: ClassDefault;
  words: Choices["words"];
  onChange: (part: Partial<Entry>) => void;
}) {
  const say = (field: string, code: string) => words[field]?.find((w) => w.code === code)?.word.toLowerCase() ?? code;
  const said = [
    e.fuel === "none" ? "" : say("fuel", e.fuel),
    words.system_volts?.find((w) => w.code === e.volts)?.word,
    say("earth", e.earth),
    say("arrangement", e.arrangement),
  ];
  return (
    <Collapsible.Root className="mt-1">
      <Collapsible.Trigger className="flex min-h-12 items-center gap-2 text-left">
        <span className="font-[560]">{said.filter(Boolean).join(" · ")}</span>
        <span className="text-soft underline underline-offset-4">change</span>
      </Collapsible.Trigger>
      <Collapsible.Content className="grid gap-2 pt-1">
        {cls.fuels.length > 1 && (
          <PickOne
            label="Fuel"
            chips={(words.fuel ?? []).filter((f) => cls.fuels.includes(f.code))}
            value={e.fuel}
            onPick={(fuel) => onChange({ fuel })}
          />
        )}
        <PickOne
          label="System volts"
          chips={words.system_volts ?? []}
          value={e.volts}
          onPick={(volts) => onChange({ volts })}
        />
        <PickOne label="Earth" chips={words.earth ?? []} value={e.earth} onPick={(earth) => onChange({ earth })} />
        <PickOne
          label="Arrangement"
          chips={words.arrangement ?? []}
          value={e.arrangement}
          onPick={(arrangement) => onChange({ arrangement })}
        />
      </Collapsible.Content>
    </Collapsible.Root>
  );
}

function More(props: {
  entry: Entry;
  choices: Choices;
  label: (p: Partial<Entry>) => void;
  onChange: (p: Partial<Entry>) => void;
  refused: Refused | undefined;
}) {
  const { entry: e, choices, label, onChange, refused } = props;
  return (
    <Collapsible.Root className="mt-1" defaultOpen={e.standard !== "SAE" || e.ca !== "" || e.made !== ""}>
      <Collapsible.Trigger className="min-h-12 text-soft underline underline-offset-4">
        Other standard, cranking amps, date, caps
      </Collapsible.Trigger>
      <Collapsible.Content className="grid gap-3 pt-1">
        <PickOne
          label="Standard of the CCA"
          chips={choices.words.standard ?? []}
          value={e.standard}
          onPick={(standard) => label({ standard })}
        />
        <div className="grid grid-cols-2 gap-5">
          <NumberEntry
            label="CA or MCA, 0 °C"
            unit="A"
            value={e.ca}
            onChange={(ca) => label({ ca })}
            error={refused?.at("rating.ca")}
          />
          <label className="block">
            <span className="cap">Made, year and month</span>
            <input
              className="field mt-0.5"
              type="month"
              placeholder="2022-03"
              value={e.made}
              onChange={(ev) => onChange({ made: ev.target.value })}
              aria-invalid={refused?.at("made") ? true : undefined}
            />
            {refused?.at("made") && <Wrong text={refused.at("made")!} />}
          </label>
        </div>
        <PickOne label="Caps" chips={choices.words.caps ?? []} value={e.caps} onPick={(caps) => onChange({ caps })} />
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
