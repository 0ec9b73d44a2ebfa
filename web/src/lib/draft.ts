import { useCallback, useState } from "react";
import { v7 as uuid } from "uuid";

const place = (name: string) => `grapnel.draft.${name}`;

function load<T>(name: string, empty: T): T & { id: string } {
  try {
    const kept = localStorage.getItem(place(name));
    if (kept) return { ...empty, ...(JSON.parse(kept) as T & { id: string }) };
  } catch {
    // Unreadable or no storage: start empty.
  }
  return { ...empty, id: uuid() };
}

/**
 * What somebody is entering, kept on this device until it is saved. Its id is
 * made with it, so that saving again after a lost reply makes no double. `empty`
 * must be a constant.
 */
export function useDraft<T extends object>(name: string, empty: T) {
  const [draft, setDraft] = useState(() => load(name, empty));
  const change = useCallback(
    (part: Partial<T>) =>
      setDraft((old) => {
        const next = { ...old, ...part };
        try {
          localStorage.setItem(place(name), JSON.stringify(next));
        } catch {
          // Full or no storage: it still lives on this page.
        }
        return next;
      }),
    [name],
  );
  const clear = useCallback(() => {
    try {
      localStorage.removeItem(place(name));
    } catch {
      // Nothing was kept.
    }
    setDraft({ ...empty, id: uuid() });
  }, [name, empty]);
  return { draft, change, clear };
}
