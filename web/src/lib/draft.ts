import { useCallback, useEffect, useState } from "react";
import { v7 as uuid } from "uuid";
import { usePerson } from "./queries";
import { drop, keep, kept as keptAt } from "./shelf";

export type Draft<T> = T & { id: string };

function load<T>(place: string, empty: T): Draft<T> {
  const found = keptAt<Draft<T>>(place);
  return found ? { ...empty, ...found } : { ...empty, id: uuid() };
}

/**
 * What a person is entering, kept on this device until it is saved. Its id is
 * made with it, so that saving again after a lost reply makes no double. `empty`
 * must be the same for the same name; the name may change, and its own draft then
 * shows. Two tabs of one person show one draft.
 */
export function useDraft<T extends object>(name: string, empty: T) {
  const person = usePerson();
  const place = `draft.${person.name}.${name}`;
  const [state, setState] = useState(() => ({ place, draft: load(place, empty) }));
  const now = state.place === place ? state : { place, draft: load(place, empty) };
  if (now !== state) setState(now);
  useEffect(() => {
    const moved = (event: StorageEvent) => {
      if (event.key === `grapnel.${place}`) setState({ place, draft: load(place, empty) });
    };
    window.addEventListener("storage", moved);
    return () => window.removeEventListener("storage", moved);
  }, [place, empty]);
  const change = useCallback(
    (part: Partial<Draft<T>>) =>
      setState((old) => {
        const draft = { ...(old.place === place ? old.draft : load(place, empty)), ...part };
        keep(place, draft);
        return { place, draft };
      }),
    [place, empty],
  );
  const clear = useCallback(() => {
    drop(place);
    setState({ place, draft: { ...empty, id: uuid() } });
  }, [place, empty]);
  /** Gives it another id: the one it had is of something saved. */
  const renew = useCallback(() => change({ id: uuid() } as Partial<Draft<T>>), [change]);
  return { draft: now.draft, change, clear, renew };
}
