import { useState } from "react";
import type { Meaning } from "../lib/api";
import { useTerms } from "../lib/queries";

const has = (text: string, words: string[]) => {
  const lower = text.toLowerCase();
  return words.some((w) => new RegExp(`(^|[^a-z])${w.toLowerCase().replace(/[+]/g, "\\$&")}($|[^a-z])`).test(lower));
};

/** The words of the trade that stand in a text, with what they mean. */
export function useMeanings(...texts: string[]): Meaning[] {
  const terms = useTerms();
  const text = texts.join(" ");
  return (terms.data?.terms ?? []).filter((t) => has(text, [t.term, ...(t.also ?? [])]));
}

/** A heading over an entry; where it or the words under it can be explained, a tap does. */
export function Heading({ text, within = "", id }: { text: string; within?: string; id?: string }) {
  const [open, setOpen] = useState(false);
  const meanings = useMeanings(text, within);
  if (meanings.length === 0)
    return (
      <p className="cap mb-1.5" id={id}>
        {text}
      </p>
    );
  return (
    <div>
      <div className="flex items-center">
        <p className="cap" id={id}>
          {text}
        </p>
        <button
          type="button"
          aria-expanded={open}
          aria-label={`Explain: ${meanings.map((m) => m.term).join(", ")}`}
          onClick={() => setOpen(!open)}
          className="-my-2 flex h-11 w-11 items-center justify-center"
        >
          <span className="flex h-5 w-5 items-center justify-center rounded-full border-[1.5px] border-soft text-[13px] font-[700] text-soft">
            ?
          </span>
        </button>
      </div>
      {open && <Meanings of={meanings} />}
    </div>
  );
}

export function Meanings({ of }: { of: Meaning[] }) {
  return (
    <dl className="mb-2 border-l-[3px] border-line pl-3 text-[14px] leading-snug">
      {of.map((m) => (
        <div key={m.term} className="py-0.5">
          <dt className="inline font-[650]">{m.term}: </dt>
          <dd className="inline text-soft">{m.means}</dd>
        </div>
      ))}
    </dl>
  );
}
