import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { Moment } from "./api";
import { useGo } from "./leaving";
import { useSay } from "./moments";
import { say } from "./notices";
import { useClock } from "./queries";
import { keep, kept } from "./shelf";
import { ring, unlock } from "./sound";
import { serverNow } from "./line";

/** What this device has called already, the newest last. */
const PLACE = "called";
const MOST = 200;

const name = (m: Moment) => `${m.job_id} ${m.kind} ${m.at}`;

/** Asks once whether the browser may show a notice; called from the tap that begins a rest. */
export function askForNotices() {
  if ("Notification" in window && Notification.permission === "default") void Notification.requestPermission();
}

/** Calls each moment of the shop on this device when its time comes: sound, title, notice. */
export function useCalling() {
  const clock = useClock();
  const go = useGo();
  const queries = useQueryClient();
  const tell = useSay();
  const moments = clock.data?.moments;
  const since = useRef(0);
  useEffect(() => {
    window.addEventListener("pointerdown", unlock);
    window.addEventListener("keydown", unlock);
    return () => {
      window.removeEventListener("pointerdown", unlock);
      window.removeEventListener("keydown", unlock);
    };
  }, []);
  useEffect(() => {
    if (!moments) return;
    since.current ||= serverNow();
    const call = (m: Moment) => {
      const called = kept<string[]>(PLACE) ?? [];
      if (called.includes(name(m))) return;
      keep(PLACE, [...called, name(m)].slice(-MOST));
      ring();
      void queries.invalidateQueries({ queryKey: ["clock"] });
      void queries.invalidateQueries({ queryKey: ["jobs"] });
      const text = `${m.tag} ${m.vehicle}. ${m.call}`;
      const open = () => go(`/jobs/${m.job_id}?at=${m.station}`);
      const away = say({
        text,
        kind: "wait",
        call: true,
        act: { word: "Go", run: open },
        more: [
          { word: "Done", run: () => tell(m, { done: true }, "done") },
          { word: "In 10 min", run: () => tell(m, { minutes: 10 }, "in 10 min") },
        ],
      });
      flashTitle(`${m.tag} ${m.call}`);
      if (document.hidden && "Notification" in window && Notification.permission === "granted") {
        const shown = new Notification(text, { tag: name(m) });
        shown.onclick = () => {
          window.focus();
          away();
          open();
          shown.close();
        };
      }
    };
    // What was over before this device looked stands on the clock, and is not called.
    const timers = moments
      .filter((m) => new Date(m.at).getTime() > since.current)
      .map((m) => setTimeout(() => call(m), Math.max(0, new Date(m.at).getTime() - serverNow()) + 200));
    return () => {
      for (const t of timers) clearTimeout(t);
    };
  }, [moments, go, queries, tell]);
}

/** Says it in the tab's title until somebody looks at the tab. */
function flashTitle(text: string) {
  const was = document.title;
  const called = `● ${text}`;
  document.title = called;
  const back = () => {
    if (document.hidden) return;
    if (document.title === called) document.title = was;
    document.removeEventListener("visibilitychange", back);
    window.removeEventListener("pointerdown", back);
  };
  document.addEventListener("visibilitychange", back);
  window.addEventListener("pointerdown", back);
}
