import { useCallback, useEffect, useState } from "react";
import { useNavigate, type NavigateOptions, type To } from "react-router";

/** A page with something unsaved asks before it is left: by a link, a key, or a step back. */

type Leave = () => void;

let ask: ((leave: Leave) => void) | undefined;
/** Where the router stands in the history; a step back is only known by where it led. */
let here = indexOf(history.state);
let stepping = false;

function indexOf(state: unknown): number {
  return (state as { idx?: number } | null)?.idx ?? 0;
}

window.addEventListener("popstate", (event) => {
  const by = indexOf(event.state) - here;
  if (stepping || !ask || by === 0) {
    stepping = false;
    here = indexOf(event.state);
    return;
  }
  // The step is taken back before the router hears of it.
  event.stopImmediatePropagation();
  stepping = true;
  history.go(-by);
  ask(() => history.go(by));
});

/** Goes to a place as useNavigate does, once what is unsaved allows. */
export function useGo() {
  const navigate = useNavigate();
  return useCallback(
    (to: To, options?: NavigateOptions) => {
      const leave = () => void navigate(to, options);
      if (ask) ask(leave);
      else leave();
    },
    [navigate],
  );
}

/** While something is unsaved, gives the step that waits for an answer. */
export function useLeaving(unsaved: boolean) {
  const [waiting, setWaiting] = useState<Leave>();
  const navigate = useNavigate();
  useEffect(() => {
    here = indexOf(history.state);
    if (!unsaved) return;
    ask = (leave) => setWaiting(() => leave);
    const link = (event: MouseEvent) => {
      const a = event.target instanceof Element ? event.target.closest("a") : null;
      const to = a?.getAttribute("href");
      if (!to?.startsWith("/") || a?.target || event.ctrlKey || event.metaKey || event.shiftKey) return;
      event.preventDefault();
      event.stopPropagation();
      setWaiting(() => () => void navigate(to));
    };
    const away = (event: BeforeUnloadEvent) => event.preventDefault();
    document.addEventListener("click", link, { capture: true });
    window.addEventListener("beforeunload", away);
    return () => {
      ask = undefined;
      document.removeEventListener("click", link, { capture: true });
      window.removeEventListener("beforeunload", away);
    };
  }, [unsaved, navigate]);
  return {
    asked: waiting !== undefined,
    go: () => {
      ask = undefined;
      waiting?.();
    },
    stay: () => setWaiting(undefined),
  };
}
