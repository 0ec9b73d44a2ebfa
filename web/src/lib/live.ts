import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

/** Without a beat for so long the line is taken to be dead, ms; the server beats every 15 s. */
const SILENCE = 40_000;
const AGAIN = 3_000;

/**
 * Keeps what is shown as it is on the server: it says which jobs changed, and
 * after every gap (sleep, a hidden tab, a restart) everything is asked for anew.
 * Only a tab in sight holds a stream, since a browser allows few to one server.
 */
export function useLive() {
  const queries = useQueryClient();
  useEffect(() => {
    let stream: EventSource | undefined;
    let again: ReturnType<typeof setTimeout> | undefined;
    let beat = Date.now();
    let opened = false;
    const refresh = (...jobs: string[]) => {
      for (const id of jobs) void queries.invalidateQueries({ queryKey: ["job", id] });
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      void queries.invalidateQueries({ queryKey: ["clock"] });
      void queries.invalidateQueries({ queryKey: ["bank"] });
      void queries.invalidateQueries({ queryKey: ["season"] });
    };
    const shut = () => {
      clearTimeout(again);
      stream?.close();
      stream = undefined;
    };
    const open = () => {
      shut();
      if (document.hidden) return;
      beat = Date.now();
      stream = new EventSource("/api/events");
      const alive = (then?: (event: MessageEvent<string>) => void) => (event: MessageEvent<string>) => {
        beat = Date.now();
        then?.(event);
      };
      stream.addEventListener(
        "here",
        alive(() => {
          // What the page has just fetched need not be fetched again.
          if (opened) void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "rules" });
          opened = true;
        }),
      );
      stream.addEventListener(
        "jobs",
        alive((event) => refresh(...(JSON.parse(event.data) as string[]))),
      );
      stream.addEventListener("beat", alive());
      stream.onerror = () => {
        // A refusal ends the stream for good; the browser comes back by itself from the rest.
        if (stream?.readyState === EventSource.CLOSED) again = setTimeout(open, AGAIN);
      };
    };
    const look = () => {
      if (document.hidden) shut();
      else if (!stream || Date.now() - beat > SILENCE) open();
    };
    open();
    const watch = setInterval(look, SILENCE / 4);
    document.addEventListener("visibilitychange", look);
    return () => {
      clearInterval(watch);
      document.removeEventListener("visibilitychange", look);
      shut();
    };
  }, [queries]);
}
