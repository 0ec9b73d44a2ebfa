import { ChevronDown, UserRound } from "lucide-react";
import type { ComponentProps } from "react";
import { usePerson } from "../lib/queries";

/** Who is signed in; what opens their settings. */
export function PersonButton(props: ComponentProps<"button">) {
  const person = usePerson();
  return (
    <button
      {...props}
      className="flex h-12 min-w-11 shrink-0 items-center justify-center gap-1.5 rounded-sm px-1.5 text-[14.5px] font-[600] hover:bg-hush"
      aria-label={`${person.name} · ${person.role}, your settings`}
    >
      <UserRound size={20} aria-hidden className="md:hidden" />
      <span className="hidden md:inline">
        {person.name} · {person.role}
      </span>
      <ChevronDown size={16} aria-hidden className="hidden md:inline" />
    </button>
  );
}
