import { Suspense, useState } from "react";
import type { Of } from "../lib/moments";
import { MomentMenu } from "../places";
import { MomentButton } from "./MomentButton";

/** The way to what can be said of a moment; the menu comes when it is first opened. */
export function MomentActs(props: { of: Of; onGo: () => void; strip?: boolean }) {
  const [open, setOpen] = useState(false);
  const button = <MomentButton of={props.of} strip={props.strip} onClick={() => setOpen(true)} />;
  if (!open) return button;
  return (
    <Suspense fallback={button}>
      <MomentMenu {...props} onClose={() => setOpen(false)} />
    </Suspense>
  );
}
