import { useLayoutEffect, useRef, useState } from "react";

/** The width an element has on screen, for drawings that must not scale their text. */
export function useWidth<E extends HTMLElement>(first = 640) {
  const ref = useRef<E>(null);
  const [width, setWidth] = useState(first);
  useLayoutEffect(() => {
    const el = ref.current;
    if (!el) return;
    const measure = () => setWidth(Math.max(200, Math.floor(el.clientWidth)));
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(el);
    return () => observer.disconnect();
  }, []);
  return [ref, width] as const;
}
