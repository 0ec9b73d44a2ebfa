import { Collapsible } from "radix-ui";
import type { Caution } from "../lib/api";

/** The sign of a caution. */
export function Triangle() {
  return (
    <svg width="19" height="19" viewBox="0 0 18 18" className="shrink-0 text-copper" aria-hidden>
      <path d="M9 1 17 16H1Z" fill="none" stroke="currentColor" strokeWidth="1.8" strokeLinejoin="round" />
      <path d="M9 6v5M9 13v1" stroke="currentColor" strokeWidth="1.8" />
    </svg>
  );
}

/** One hazard at the step it belongs to: a line, and the rest a tap away. */
export function CautionLine({ caution }: { caution: Caution }) {
  return (
    <Collapsible.Root className="text-[14px] leading-snug">
      <Collapsible.Trigger className="flex min-h-12 w-full items-center gap-2.5 py-1 text-left hover:bg-hush">
        <Triangle />
        <span className="underline decoration-line underline-offset-4">{caution.line}</span>
      </Collapsible.Trigger>
      <Collapsible.Content className="pb-2 pl-[29px] text-soft">{caution.more}</Collapsible.Content>
    </Collapsible.Root>
  );
}

/** All cautions of a step in one line, where there is no room for more: a tap opens them whole. */
export function CautionRow({ cautions }: { cautions: Caution[] }) {
  const first = cautions[0];
  if (!first) return null;
  return (
    <Collapsible.Root className="contents text-[14px] leading-snug">
      <Collapsible.Trigger className="flex min-h-11 min-w-0 flex-1 items-center gap-2 text-left">
        <Triangle />
        <span className="line-clamp-1 min-w-0 underline md:line-clamp-2 decoration-line underline-offset-4">
          {first.line}
        </span>
        {cautions.length > 1 && <b className="shrink-0 font-[640]">+{cautions.length - 1}</b>}
      </Collapsible.Trigger>
      <Collapsible.Content className="basis-full border-l-4 border-copper bg-card px-3 py-2">
        {cautions.map((c) => (
          <p key={c.code} className="py-1">
            <b className="block font-[600]">{c.line}</b>
            <span className="text-soft">{c.more}</span>
          </p>
        ))}
      </Collapsible.Content>
    </Collapsible.Root>
  );
}
