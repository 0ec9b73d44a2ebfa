import { useSyncExternalStore } from "react";

/** Whether the server answers, as far as the last tries tell. */
let down = !navigator.onLine;
/** How far this device's clock is behind the server's, ms. */
let behind = 0;
let probe: ReturnType<typeof setTimeout> | undefined;
const watching = new Set<() => void>();
const returning = new Set<() => void>();

const PROBE_MS = 2_500;

/** The time by the server's clock, ms. */
export const serverNow = () => Date.now() + behind;

/** An answer came: the line stands, and it carries the server's time. */
export function heard(answer: Response) {
  const at = Date.parse(answer.headers.get("date") ?? "");
  // The header has whole seconds; less than two are noise.
  if (!Number.isNaN(at)) behind = Math.abs(at - Date.now()) < 2_000 ? 0 : at - Date.now();
  set(false);
}

/** No answer came. */
export const missed = () => set(true);

function set(now: boolean) {
  if (down === now) return;
  down = now;
  for (const tell of watching) tell();
  if (down) ask();
  else for (const tell of returning) tell();
}

/** Asks again and again until the server answers. */
function ask() {
  clearTimeout(probe);
  probe = setTimeout(() => {
    fetch("/healthz", { cache: "no-store", signal: AbortSignal.timeout(PROBE_MS) })
      .then((answer) => (answer.ok ? heard(answer) : ask()))
      .catch(ask);
  }, PROBE_MS);
}

window.addEventListener("offline", missed);
window.addEventListener("online", () => {
  if (down) fetch("/healthz", { cache: "no-store" }).then(heard).catch(ask);
});
if (down) ask();

export const isDown = () => down;

const watch = (tell: () => void) => {
  watching.add(tell);
  return () => watching.delete(tell);
};

/** Whether the server cannot be reached. */
export const useDown = () => useSyncExternalStore(watch, isDown);

/** Runs something each time the line is back. */
export function onReturn(run: () => void) {
  returning.add(run);
  return () => void returning.delete(run);
}
