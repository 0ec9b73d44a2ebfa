import { useEffect, useState } from "react";

/** A JSON-like value once it has stopped changing for a moment. Its content counts, not the object. */
export function useSettled<T>(value: T, ms: number): T {
  const now = JSON.stringify(value) as string | undefined;
  const [settled, setSettled] = useState(now);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(now), ms);
    return () => clearTimeout(timer);
  }, [now, ms]);
  return (settled === undefined ? undefined : JSON.parse(settled)) as T;
}
