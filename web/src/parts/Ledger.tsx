import { Collapsible } from "radix-ui";
import type { Finding, ReadingView, Rule } from "../lib/api";
import { when } from "../lib/time";
import { keep } from "../lib/units";
import { Sign } from "./Sign";

/** A rule's name as the house says it. */
const titleOf = (book: Rule[] | undefined, id: string | undefined) => book?.find((r) => r.id === id)?.title;

/** The lines of reasoning: reading, rule and its source, conclusion. A tap opens one. */
export function Ledger(props: { findings: Finding[]; inEffect: ReadingView[]; book?: Rule[] | undefined }) {
  if (props.findings.length === 0) {
    return (
      <p className="border-t border-line py-3 text-soft">
        No conclusions yet. Each one will stand here with its reason.
      </p>
    );
  }
  return (
    <ul>
      {props.findings.map((f, i) => (
        <li key={f.code + i} className="border-t border-line">
          <Line finding={f} inEffect={props.inEffect} rule={titleOf(props.book, f.rule)} />
        </li>
      ))}
    </ul>
  );
}

function Line({ finding: f, inEffect, rule }: { finding: Finding; inEffect: ReadingView[]; rule: string | undefined }) {
  return (
    <Collapsible.Root>
      <Collapsible.Trigger className="group grid min-h-12 w-full grid-cols-[16px_1fr_14px] items-baseline gap-2.5 py-2.5 text-left text-[14.5px] leading-snug hover:bg-hush">
        <span className="translate-y-0.5">
          <Sign kind={f.level} />
        </span>
        <span>
          {keep(f.text)}
          {f.other_school && (
            <small className="mt-0.5 block text-[13px] text-soft">Other school, {keep(f.other_school)}</small>
          )}
        </span>
        <span aria-hidden className="text-soft group-data-[state=open]:rotate-90">
          ›
        </span>
      </Collapsible.Trigger>
      <Collapsible.Content>
        <dl className="mb-3 ml-6.5 grid grid-cols-[68px_1fr] gap-x-2 gap-y-1 text-[13.5px] leading-snug">
          {f.readings.map((at) => {
            const r = inEffect[at];
            return r ? <Row key={at} name="Reading" text={`${readingWords(r)}, ${when(r.at)}, ${r.by}`} /> : null;
          })}
          {f.why && <Row name="Why" text={f.why} />}
          {rule && <Row name="House rule" text={rule} />}
          {f.source && <Row name="Source" text={f.source} />}
        </dl>
      </Collapsible.Content>
    </Collapsible.Root>
  );
}

function Row({ name, text }: { name: string; text: string }) {
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd>{keep(text)}</dd>
    </>
  );
}

const kindWords: Record<string, string> = {
  rest_voltage: "Rest volts",
  load_test: "Load test",
  charged: "Charged",
  inspection: "Looked",
  cleaned: "Cleaned",
  eye: "Eye",
};

/** A reading in a few words. */
export function readingWords(r: ReadingView): string {
  const kind = kindWords[r.reading.kind] ?? r.reading.kind.replaceAll("_", " ");
  const parts = [kind];
  const volts = r.reading.volts ?? r.reading.volts_end;
  if (volts !== undefined) parts.push(`${volts.toFixed(2)} V`);
  if (r.reading.amps !== undefined) parts.push(`at ${r.reading.amps} A`);
  if (r.reading.ended) parts.push(r.reading.ended);
  if (r.reading.found) parts.push(r.reading.found.join(", ").replaceAll("_", " "));
  return parts.join(" ");
}
