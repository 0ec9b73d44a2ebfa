import { useEffect, useState } from "react";

/** A short tone, where the device lets one sound. */
function tone() {
  try {
    const audio = new AudioContext();
    const osc = audio.createOscillator();
    const gain = audio.createGain();
    osc.frequency.value = 880;
    gain.gain.value = 0.25;
    osc.connect(gain).connect(audio.destination);
    osc.start();
    osc.stop(audio.currentTime + 0.7);
    osc.onended = () => void audio.close();
  } catch {
    // Silent devices still show the words.
  }
  navigator.vibrate?.([300, 100, 300]);
}

/** Counts the load's seconds down and calls when to take it off. */
export function Countdown({ seconds, go, stop }: { seconds: number; go: string; stop: string }) {
  const [ends, setEnds] = useState<number>();
  const [left, setLeft] = useState(seconds);
  const [over, setOver] = useState(false);
  useEffect(() => {
    if (ends === undefined) return;
    const timer = setInterval(() => {
      const now = Math.max(0, (ends - performance.now()) / 1000);
      setLeft(now);
      if (now === 0) {
        setEnds(undefined);
        setOver(true);
        tone();
      }
    }, 50);
    return () => clearInterval(timer);
  }, [ends]);
  const start = () => {
    setOver(false);
    setLeft(seconds);
    setEnds(performance.now() + seconds * 1000);
  };
  if (ends !== undefined) {
    return (
      <div
        className="flex items-center gap-5 rounded-sm border-[1.5px] border-copper bg-card px-5 py-3 max-md:fixed max-md:inset-0 max-md:z-40 max-md:flex-col max-md:justify-center max-md:gap-8"
        role="timer"
        aria-label={`${Math.ceil(left)} seconds of load to go`}
      >
        <span
          className="w-[1.35em] shrink-0 text-center text-[72px] leading-none font-[780] tracking-tight text-copper max-md:text-[180px]"
          data-testid="countdown"
        >
          {Math.ceil(left)}
        </span>
        <span className="w-full">
          <b className="block text-[19px] max-md:text-center max-md:text-[30px]">{go}, hold it</b>
          <span className="mt-2 block h-3 bg-hush max-md:h-5">
            <span className="block h-full bg-copper" style={{ width: `${(100 * left) / seconds}%` }} />
          </span>
        </span>
        <button className="btn btn-line" onClick={() => setEnds(undefined)}>
          Cancel
        </button>
      </div>
    );
  }
  if (over) {
    return (
      <div className="flex flex-wrap items-center gap-4 rounded-sm bg-oxide px-5 py-4 text-paper" role="alert">
        <span className="min-w-[200px] flex-1">
          <b className="block text-[38px] leading-none font-[800]">{stop}</b>
          <span className="mt-1.5 block text-[16px]">Enter the volts you saw at the last second.</span>
        </span>
        <button className="btn border-paper! bg-transparent!" onClick={start}>
          Once more
        </button>
      </div>
    );
  }
  return (
    <button className="btn btn-line min-h-[54px]! w-full text-[21px]!" onClick={start}>
      Start {seconds} s
    </button>
  );
}
