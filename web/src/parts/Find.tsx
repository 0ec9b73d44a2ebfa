import { Search } from "lucide-react";
import { useRef, useState, type RefObject } from "react";
import { useLocation, useSearchParams } from "react-router";
import { useGo } from "../lib/leaving";
import { useNarrow } from "../lib/pointer";

/** How long typing pauses before the list follows, ms. */
const PAUSE = 250;

/** Narrows the floor as one types, from any place; Enter opens what is found alone. */
export function Find({ input }: { input: RefObject<HTMLInputElement | null> }) {
  const go = useGo();
  const here = useLocation();
  const [params] = useSearchParams();
  const narrow = useNarrow();
  // On the register it narrows that, everywhere else the floor.
  const place = here.pathname === "/register" ? here.pathname : "/";
  const onFloor = here.pathname === place;
  const found = onFloor ? (params.get("find") ?? "") : "";
  // The field keeps its own text: the address follows a moment later, and must
  // not take back letters typed meanwhile.
  const [typed, setTyped] = useState<string>();
  const pause = useRef<ReturnType<typeof setTimeout>>(undefined);
  const left = useRef<ReturnType<typeof setTimeout>>(undefined);
  const [seen, setSeen] = useState(here.pathname);
  if (seen !== here.pathname) {
    setSeen(here.pathname);
    if (!onFloor) setTyped(undefined);
  }
  const look = (text: string, open: boolean) => {
    clearTimeout(pause.current);
    const next = new URLSearchParams(onFloor ? params : undefined);
    if (text) next.set("find", text);
    else next.delete("find");
    go({ pathname: place, search: next.toString() }, { replace: onFloor, state: { open } });
  };
  return (
    <label className="ml-auto flex h-11 min-w-0 flex-1 items-center gap-2 rounded-sm border-[1.5px] border-line bg-card px-2.5 text-soft outline-copper focus-within:border-copper has-[input:focus-visible]:outline-3 md:max-w-[250px]">
      <Search size={17} aria-hidden className="shrink-0" />
      <input
        ref={input}
        type="search"
        aria-label="Find a job by tag, vehicle, customer, note or finding"
        placeholder={narrow ? "tag, vehicle" : "tag, vehicle, customer"}
        value={typed ?? found}
        onChange={(e) => {
          const text = e.target.value;
          setTyped(text);
          clearTimeout(pause.current);
          pause.current = setTimeout(() => look(text, false), PAUSE);
        }}
        onFocus={() => clearTimeout(left.current)}
        onBlur={() => {
          left.current = setTimeout(() => setTyped(undefined), 2 * PAUSE);
        }}
        onKeyDown={(e) => {
          if (e.key === "Escape") {
            clearTimeout(pause.current);
            setTyped(undefined);
            if (found) look("", false);
            e.currentTarget.blur();
          } else if (e.key === "Enter") look(e.currentTarget.value, true);
        }}
        className="h-full w-full min-w-0 bg-transparent text-[15px] text-ink outline-none placeholder:text-soft"
      />
      <kbd className="hidden md:inline">/</kbd>
    </label>
  );
}
