import { Collapsible } from "radix-ui";
import type { Finding, ReadingView, Rule } from "../lib/api";
import { when } from "../lib/time";
import { keep } from "../lib/units";
import { useMeanings } from "./Explain";
import { Sign } from "./Sign";

/** A rule's name as the house says it. */
const titleOf = (book: Rule[] | undefined, id: string | undefined) => book?.find((r) => r.id === id)?.title;

/** The lines of reasoning: reading, rule and its source, conclusion. A tap opens one. */
export function Ledger(props: {
  findings: Finding[];
  readings: ReadingView[];
  book?: Rule[] | undefined;
  /** The reading that is being entered, in words. */
  entered?: string | undefined;
  /** Readings of the open station: what rests on them stands open, the rest is folded. */
  about?: string[] | undefined;
}) {
  const { about } = props;
  if (props.findings.length === 0) {
    return (
      <p className="border-t border-line py-3 text-soft">
        No conclusions yet. Each one will stand here with its reason.
      </p>
    );
  }
  const here = props.findings.filter(
    (f) => f.level === "stop" || f.reading_ids.some((id) => about?.includes(id)) || f.reading_ids.includes("preview"),
  );
  const first = about && here.length > 0 ? here : props.findings;
  const rest = props.findings.filter((f) => !first.includes(f));
  return (
    <>
      <Lines {...props} findings={first} />
      {rest.length > 0 && (
        <Collapsible.Root>
          <Collapsible.Trigger className="group flex min-h-12 w-full items-center justify-between border-t border-line text-left text-[14.5px] text-soft hover:bg-hush">
            {rest.length} {rest.length === 1 ? "line" : "lines"} of the other stations
            <span aria-hidden className="group-data-[state=open]:rotate-90">
              ›
            </span>
          </Collapsible.Trigger>
          <Collapsible.Content>
            <Lines {...props} findings={rest} />
          </Collapsible.Content>
        </Collapsible.Root>
      )}
    </>
  );
}

type LinesProps = {
  findings: Finding[];
  readings: ReadingView[];
  book?: Rule[] | undefined;
  entered?: string | undefined;
};

function Lines({ findings, readings, book, entered }: LinesProps) {
  return (
    <ul>
      {findings.map((f, i) => (
        <li key={f.code + i} className="border-t border-line">
          <Line finding={f} readings={readings} rule={titleOf(book, f.rule)} entered={entered} />
        </li>
      ))}
    </ul>
  );
}

type LineProps = {
  finding: Finding;
  readings: ReadingView[];
  rule: string | undefined;
  entered: string | undefined;
};

function Line({ finding: f, readings, rule, entered }: LineProps) {
  const meanings = useMeanings(f.text, f.other_school ?? "");
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
          {f.reading_ids.map((id) => {
            const r = readings.find((one) => one.id === id);
            return (
              <Row
                key={id}
                name="Reading"
                text={r ? `${r.text}, ${when(r.at)}, ${r.by}` : `${entered ?? ""}, the one being entered`}
              />
            );
          })}
          {f.why && <Row name="Why" text={f.why} />}
          {rule && <Row name="House rule" text={rule} />}
          {f.source && <Row name="Source" text={f.source} />}
          {meanings.map((m) => (
            <Row key={m.term} name="Means" text={`${m.term}: ${m.means}`} />
          ))}
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
