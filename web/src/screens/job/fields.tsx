import { useId } from "react";
import type { Field } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { readNumber, unitOf, type Scale } from "../../lib/units";
import { PickAny, PickOne } from "../../parts/Chips";
import { Heading } from "../../parts/Explain";
import { NumberEntry } from "../../parts/NumberEntry";
import { garbled, type Drawn } from "./entry";

/** A figure beside the chief one, and not among a few worth a tap. */
export const small = (f: Field) => f.kind === "figure" && !f.big && !f.picks;

/** What stands for a field that is left out. */
const UNKNOWN = "unknown";

/** A word or several, or a figure among those worth a tap. */
export function Picking(props: { drawn: Drawn; onChange: (v: string) => void; first?: boolean }) {
  const { field, value, hint } = props.drawn;
  const { onChange } = props;
  if (field.kind === "choices")
    return (
      <Titled field={field}>
        <PickAny
          label={field.label}
          chips={field.choices ?? []}
          value={value ? value.split(" ") : []}
          onPick={(codes) => onChange(codes.join(" "))}
        />
      </Titled>
    );
  if (field.kind === "text" || field.kind === "date") return <Words field={field} value={value} onChange={onChange} />;
  if (field.kind === "figure" && !field.picks)
    return <NumberEntry label={field.label} unit={field.unit ?? ""} value={value} onChange={onChange} />;
  const chips =
    field.kind === "flag"
      ? [
          { code: "yes", word: "Yes" },
          { code: "no", word: "No" },
        ]
      : (field.picks?.map((p) => ({ code: String(p.value), word: p.word })) ?? [...(field.choices ?? [])]);
  if (field.unknown) chips.push({ code: UNKNOWN, word: field.unknown });
  return (
    <Titled field={field}>
      <PickOne
        label={field.label}
        chips={chips}
        value={value || (field.unknown ? UNKNOWN : "")}
        onPick={(code) => onChange(code === UNKNOWN ? "" : code)}
        first={props.first}
      />
      {hint && !value && <p className="mt-1.5 text-[13.5px] text-soft">{hint}</p>}
    </Titled>
  );
}

/** Free words, kept as they are typed. */
function Words({ field, value, onChange }: { field: Field; value: string; onChange: (v: string) => void }) {
  const id = useId();
  return (
    <div>
      <label className="cap block" htmlFor={id}>
        {field.label}
      </label>
      <input
        id={id}
        className="field"
        type={field.kind === "date" ? "date" : "text"}
        value={value}
        maxLength={field.most ?? 80}
        onChange={(e) => onChange(e.target.value)}
        autoComplete="off"
      />
    </div>
  );
}

function Titled({ field, children }: { field: Field; children: React.ReactNode }) {
  return (
    <div>
      <Heading text={field.label} />
      {children}
    </div>
  );
}

export function Figure(props: { drawn: Drawn; onChange: (v: string) => void; error: string | undefined }) {
  const { field, value, hint } = props.drawn;
  const scale: Scale = usePerson().temperature;
  const bad = value !== "" && readNumber(value) === undefined && garbled(value);
  return (
    <NumberEntry
      label={field.label}
      unit={unitOf(field.unit ?? "", scale)}
      value={value}
      onChange={props.onChange}
      error={bad ? `“${value}” is not a number.` : props.error}
      hint={hint}
      signed={field.unit === "°C"}
    />
  );
}
