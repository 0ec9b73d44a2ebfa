import { Collapsible } from "radix-ui";
import { useState, type ReactNode } from "react";
import { Refused, type Choices, type ClassDefault } from "../../lib/api";
import { comeToSee } from "../../lib/first";
import { useNarrow } from "../../lib/pointer";
import { usePerson } from "../../lib/queries";
import { PickAny, PickOne } from "../../parts/Chips";
import { Heading } from "../../parts/Explain";
import { NumberEntry } from "../../parts/NumberEntry";
import { WhoseTag } from "../../parts/WhoseTag";
import { serverNow } from "../../lib/line";
import { fromClass, local, text, type Entry } from "./entry";

type Props = {
  choices: Choices;
  entry: Entry;
  onChange: (part: Partial<Entry>) => void;
  error: Error | null;
  /** Says whose the tag is, where it is known here with another label. */
  answer: (battery: "same" | "other") => void;
  known?: boolean;
};

export function JobForm({ choices, entry: e, onChange, error, answer, known = false }: Props) {
  const person = usePerson();
  const refused = error instanceof Refused ? error : undefined;
  const cls = choices.classes.find((c) => c.class === e.cls);
  // On a phone what is picked folds to a line, so that the label comes into sight.
  const folds = useNarrow() && !known;
  const complaint = e.complaint.map((code) => choices.words.complaint?.find((w) => w.code === code)?.word ?? code);
  const label = (part: Partial<Entry>) => onChange({ ...part, typical: false });
  return (
    <div className="grid gap-x-10 gap-y-5 lg:grid-cols-[1.22fr_1fr]">
      <div className="grid content-start gap-5 max-md:gap-1.5">
        <Part title="What is it for?" folded={folds && cls?.word}>
          <PickOne
            label="Vehicle class"
            chips={choices.classes.map((c) => ({ code: c.class, word: c.word }))}
            value={e.cls}
            onPick={(code) => {
              const d = choices.classes.find((c) => c.class === code);
              if (d) onChange(fromClass(d));
            }}
            first={!known}
          />
        </Part>
        {cls && <System entry={e} cls={cls} words={choices.words} onChange={onChange} />}
        {refused?.at("system_volts") && <Wrong text={refused.at("system_volts")!} />}
        <Part title="What is the complaint?" folded={folds && complaint.join(", ")}>
          <PickAny
            label="Complaint"
            chips={choices.words.complaint ?? []}
            value={e.complaint}
            onPick={(complaint) => onChange({ complaint })}
          />
        </Part>
        <div className={folds && complaint.length === 0 ? "max-md:hidden" : "md:-mt-3"}>
          <input
            className="field"
            aria-label="In the customer’s words"
            placeholder="in the customer’s words"
            maxLength={500}
            value={e.note}
            onChange={(ev) => onChange({ note: ev.target.value })}
          />
        </div>
      </div>
      <div
        className={`grid content-start gap-5 ${cls ? "" : "pointer-events-none opacity-40 max-md:hidden"}`}
        inert={!cls}
      >
        <Part title="What does the label say?" id="label">
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
            <Heading text="Build" within={(choices.words.chemistry ?? []).map((w) => w.word).join(" ")} />
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
            <div className="grid grid-cols-2 gap-3 max-md:col-span-2">
              <NumberEntry
                label="Shop"
                unit={`°${person.temperature}`}
                value={e.ambient}
                onChange={(ambient) => onChange({ ambient })}
                error={refused?.at("ambient_c")}
                signed
              />
              <NumberEntry
                label="Battery"
                unit={`°${person.temperature}`}
                value={e.battery}
                onChange={(battery) => onChange({ battery })}
                error={refused?.at("battery_c")}
                signed
              />
            </div>
          </div>
          <Promised
            value={e.promised ?? ""}
            onChange={(promised) => onChange({ promised })}
            error={refused?.at("promised_at")}
          />
          <p className="mt-1.5 text-[13.5px] text-soft">
            The battery lags the shop by 6 to 8 hours. Left empty, it is taken to be as warm as the shop.
          </p>
        </Part>
        {refused?.knownTag ? (
          <div ref={comeToSee} role="alert" className="border-l-4 border-copper bg-card px-3.5 py-2.5">
            <p className="font-[680]">{refused.message}</p>
            <p className="mt-0.5 text-soft">If it is, its label is corrected to what stands here.</p>
            <div className="mt-2 flex flex-wrap gap-2">
              <WhoseTag answer={answer} other={!known} />
            </div>
          </div>
        ) : (
          refused && <Wrong text={refused.message} />
        )}
      </div>
    </div>
  );
}

type PartProps = {
  title: string;
  id?: string;
  children: ReactNode;
  /** What it comes to in a line; it then shows no more until it is changed. */
  folded?: string | false | undefined;
};

function Part({ title, id, children, folded }: PartProps) {
  // Opened again it stays open: more than one may be picked.
  const [reopened, setReopened] = useState(false);
  if (folded && !reopened)
    return (
      <button
        type="button"
        className="flex min-h-12 w-full items-center justify-between gap-3 border-b border-line text-left"
        onClick={() => setReopened(true)}
      >
        <b className="min-w-0 truncate text-[18px] font-[740]">{folded}</b>
        <span className="shrink-0 text-soft underline underline-offset-4">
          change<span className="sr-only">: {title}</span>
        </span>
      </button>
    );
  return (
    <section id={id} className="scroll-mt-16">
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

/** A time of day so many days from now. */
function on(days: number, hour: number): string {
  const at = new Date(serverNow());
  at.setDate(at.getDate() + days);
  at.setHours(hour, 0, 0, 0);
  return local(at);
}

/** When it is promised back: what the order of the chargers goes by. */
function Promised(props: { value: string; onChange: (at: string) => void; error: string | undefined }) {
  const { value, onChange } = props;
  const usual: [string, string][] = [
    ["today, 16:00", on(0, 16)],
    ["tomorrow, 8:00", on(1, 8)],
    ["tomorrow, 16:00", on(1, 16)],
  ];
  return (
    <div className="mt-3">
      <p className="cap">Promised for</p>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        {usual.map(([word, at]) => (
          <button
            key={word}
            type="button"
            aria-pressed={value === at}
            onClick={() => onChange(value === at ? "" : at)}
            className={`min-h-12 rounded-sm border-[1.5px] px-3 text-[15px] font-[540] ${value === at ? "border-ink bg-ink text-paper" : "border-line bg-card hover:border-soft"}`}
          >
            {word}
          </button>
        ))}
        <input
          type="datetime-local"
          aria-label="Promised for, another time"
          className="field w-[215px]!"
          value={value}
          onChange={(ev) => onChange(ev.target.value)}
          aria-invalid={props.error ? true : undefined}
        />
      </div>
      {props.error && <Wrong text={props.error} />}
    </div>
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
    <Collapsible.Root className="mt-1" defaultOpen={e.standard !== "SAE" || e.ca !== "" || !!e.charge || e.made !== ""}>
      <Collapsible.Trigger className="min-h-12 text-soft underline underline-offset-4">
        Other standard, cranking and charging amps, date, caps
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
            label="Charge with, printed"
            unit="A"
            value={e.charge ?? ""}
            onChange={(charge) => label({ charge })}
            error={refused?.at("rating.charge_amps")}
          />
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
