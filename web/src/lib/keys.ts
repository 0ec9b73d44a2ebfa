import { useLayoutEffect } from "react";

// What is on the screen answers its keys at once: an ordinary effect runs after the
// paint, on a busy machine after the next key too.

/** Ctrl and Enter press what saves on a screen, wherever the focus is. */
export function useSaveKey() {
  useLayoutEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey) || event.repeat) return;
      if ((event.target as HTMLElement | null)?.closest("[role=dialog]")) return;
      event.preventDefault();
      document.querySelector<HTMLButtonElement>("main [data-saves]:not(:disabled)")?.click();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}

/** Runs a handler for plain keys pressed anywhere but in a field. */
export function useKeys(handle: (key: string, event: KeyboardEvent) => void) {
  useLayoutEffect(() => {
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
