import { Ellipsis } from "lucide-react";
import type { ComponentProps } from "react";
import type { Of } from "../lib/moments";

/** Opens what can be said of a moment. */
export function MomentButton({
  of,
  strip,
  ...rest
}: { of: Of; strip?: boolean | undefined } & ComponentProps<"button">) {
  return (
    <button
      type="button"
      aria-haspopup="menu"
      aria-label={`${of.tag}: done, later, who goes`}
      className={`flex h-12 w-11 shrink-0 items-center justify-center ${strip ? "hover:bg-white/10" : "text-soft hover:bg-hush"}`}
      {...rest}
    >
      <Ellipsis size={20} aria-hidden />
    </button>
  );
}
