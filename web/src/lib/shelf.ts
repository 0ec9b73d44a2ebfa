/** What this device keeps. Without storage, or with it full, things live on the page alone. */

const at = (place: string) => `grapnel.${place}`;

export function kept<T>(place: string): T | undefined {
  try {
    const text = localStorage.getItem(at(place));
    return text === null ? undefined : (JSON.parse(text) as T);
  } catch {
    return undefined;
  }
}

export function keep(place: string, what: unknown) {
  try {
    localStorage.setItem(at(place), JSON.stringify(what));
  } catch {
    // Full or no storage.
  }
}

/** What is kept under places that begin alike, by the rest of their names. */
export function keptUnder<T>(prefix: string): [string, T][] {
  try {
    const names = Object.keys(localStorage).filter((key) => key.startsWith(at(prefix)));
    return names.flatMap((key) => {
      const name = key.slice(at(prefix).length);
      const what = kept<T>(prefix + name);
      return what === undefined ? [] : [[name, what] as [string, T]];
    });
  } catch {
    return [];
  }
}

export function drop(place: string) {
  try {
    localStorage.removeItem(at(place));
  } catch {
    // Nothing was kept.
  }
}
