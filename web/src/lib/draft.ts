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
 * must be a constant; the name may change, and its own draft then shows.
 */
export function useDraft<T extends object>(name: string, empty: T) {
  const [kept, setKept] = useState(() => ({ name, draft: load(name, empty) }));
  const now = kept.name === name ? kept : { name, draft: load(name, empty) };
  if (now !== kept) setKept(now);
  const change = useCallback(
    (part: Partial<T>) =>
      setKept((old) => {
        const draft = { ...(old.name === name ? old.draft : load(name, empty)), ...part };
        try {
          localStorage.setItem(place(name), JSON.stringify(draft));
        } catch {
          // Full or no storage: it still lives on this page.
        }
        return { name, draft };
      }),
    [name, empty],
  );
  const clear = useCallback(() => {
    try {
      localStorage.removeItem(place(name));
    } catch {
      // Nothing was kept.
    }
    setKept({ name, draft: { ...empty, id: uuid() } });
  }, [name, empty]);
  return { draft: now.draft, change, clear };
}
