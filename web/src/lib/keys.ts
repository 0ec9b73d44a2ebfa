import { useEffect } from "react";

/** Runs a handler for plain keys pressed anywhere but in a field. */
export function useKeys(handle: (key: string, event: KeyboardEvent) => void) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
      const at = event.target as HTMLElement | null;
      if (at?.closest("input, textarea, select, [role=dialog]")) return;
      handle(event.key, event);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [handle]);
}
