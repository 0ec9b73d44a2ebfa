/** Tones, made on a context that the first touch or key unlocks. */

import { keep, kept } from "./shelf";

let audio: AudioContext | undefined;

/** To be called while a touch or a key is handled: browsers allow sound only from there. */
export function unlock() {
  try {
    audio ??= new AudioContext();
    if (audio.state === "suspended") void audio.resume();
  } catch {
    // Silent devices still show the words.
  }
}

/** A tone in so many seconds from now; what is returned silences it. */
function tone(inSeconds: number, hertz: number, seconds: number): () => void {
  if (!audio) return () => undefined;
  const at = audio.currentTime + inSeconds;
  const osc = audio.createOscillator();
  const gain = audio.createGain();
  osc.frequency.value = hertz;
  gain.gain.setValueAtTime(0.3, at);
  gain.gain.setTargetAtTime(0, at + seconds, 0.02);
  osc.connect(gain).connect(audio.destination);
  osc.start(at);
  osc.stop(at + seconds + 0.15);
  return () => {
    osc.onended = null;
    osc.disconnect();
  };
}

/** Counts to an end: three, two, one, and a long tone. */
export function countIn(seconds: number): () => void {
  const tones = [3, 2, 1].filter((n) => n < seconds).map((n) => tone(seconds - n, 660, 0.12));
  tones.push(tone(seconds, 880, 0.8));
  return () => {
    for (const silence of tones) silence();
  };
}

/** Whether the clock calls on this device with sound. */
export const isSilent = () => kept<boolean>("silent") === true;
export const setSilent = (silent: boolean) => keep("silent", silent);

/** The clock calls. */
export function ring() {
  if (isSilent()) return;
  for (const n of [0, 0.35, 0.7]) tone(n, n === 0.35 ? 740 : 880, 0.2);
  if (navigator.userActivation?.hasBeenActive) navigator.vibrate?.([200, 100, 200]);
}
