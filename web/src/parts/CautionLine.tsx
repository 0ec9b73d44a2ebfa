import { Collapsible } from "radix-ui";
import type { Caution } from "../lib/api";

/** One hazard at the step it belongs to: a line, and the rest a tap away. */
export function CautionLine({ caution }: { caution: Caution }) {
  return (
    <Collapsible.Root className="text-[14px] leading-snug">
      <Collapsible.Trigger className="flex min-h-12 w-full items-center gap-2.5 py-1 text-left hover:bg-hush">
        <svg width="19" height="19" viewBox="0 0 18 18" className="shrink-0 text-copper" aria-hidden>
          <path d="M9 1 17 16H1Z" fill="none" stroke="currentColor" strokeWidth="1.8" strokeLinejoin="round" />
          <path d="M9 6v5M9 13v1" stroke="currentColor" strokeWidth="1.8" />
        </svg>
        <span className="underline decoration-line underline-offset-4">{caution.line}</span>
      </Collapsible.Trigger>
      <Collapsible.Content className="pb-2 pl-[29px] text-soft">{caution.more}</Collapsible.Content>
    </Collapsible.Root>
  );
}
