import { useEffect, useState } from "react";

/** A value once it has stopped changing for a moment. Compared by content. */
export function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  const key = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the content decides, not the object
  }, [key, ms]);
  return settled;
}
