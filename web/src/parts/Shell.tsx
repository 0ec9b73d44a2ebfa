import { Search } from "lucide-react";
import { useCallback, useRef, useState, type ReactNode } from "react";
import { Link, NavLink, useLocation, useNavigate, useSearchParams } from "react-router";
import { useKeys } from "../lib/keys";
import { ClockStrip } from "./ClockStrip";
import { KeysHelp } from "./KeysHelp";
import { PersonMenu } from "./PersonMenu";

export function Mark() {
  return (
    <svg
      width="26"
      height="26"
      viewBox="0 0 26 26"
      fill="none"
      stroke="currentColor"
      strokeWidth="2.3"
      strokeLinecap="round"
      aria-hidden
    >
      <circle cx="13" cy="4" r="2.4" />
      <path d="M13 6.5V23M13 23C6 22 3.500 17.500 3.500 13M13 23c7-1 9.500-5.500 9.500-10M13 23c-3-2-4.200-6-4.200-9.500M13 23c3-2 4.200-6 4.200-9.500" />
    </svg>
  );
}

const places = [
  { to: "/", word: "Floor", key: "f" },
  { to: "/rules", word: "House rules", key: "h" },
];

/** The frame around every place: where one can go, find, who is signed in, the clock. */
export function Shell({ children }: { children: ReactNode }) {
  const go = useNavigate();
  const find = useRef<HTMLInputElement>(null);
  const [help, setHelp] = useState(false);
  const led = useRef(false); // g was pressed; the next letter names a place
  useKeys(
    useCallback(
      (key, event) => {
        const place = led.current ? places.find((p) => p.key === key) : undefined;
        led.current = key === "g" && !led.current;
        if (place) void go(place.to);
        else if (key === "n") void go("/jobs/new");
        else if (key === "?") setHelp(true);
        else if (key === "/") {
          event.preventDefault();
          find.current?.focus();
        }
      },
      [go],
    ),
  );
  return (
    <>
      <header className="screen-only sticky top-0 z-20 flex h-14 items-center gap-3 border-b-[1.5px] border-ink bg-paper px-3 md:gap-6 md:px-5">
        <Link
          to="/"
          className="flex h-12 items-center gap-2 text-xl font-extrabold tracking-tight"
          aria-label="Grapnel, to the floor"
        >
          <Mark />
          <span className="tight hidden md:inline">grapnel</span>
        </Link>
        <nav className="flex h-full gap-1" aria-label="Places">
          {places.map((p) => (
            <NavLink
              key={p.to}
              to={p.to}
              end
              className={({ isActive }) =>
                `${p.to === "/" ? "flex" : "hidden md:flex"} -mb-[1.5px] h-[calc(100%+1.5px)] items-center border-b-[3px] px-2.5 font-[560] whitespace-nowrap md:px-3 ${isActive ? "border-copper text-ink" : "border-transparent text-soft hover:text-ink"}`
              }
            >
              {p.word}
            </NavLink>
          ))}
        </nav>
        <Find input={find} />
        <PersonMenu onHelp={() => setHelp(true)} />
      </header>
      <main>{children}</main>
      <ClockStrip />
      <KeysHelp open={help} onClose={() => setHelp(false)} />
    </>
  );
}

/** Narrows the floor as one types, from any place. */
function Find({ input }: { input: React.RefObject<HTMLInputElement | null> }) {
  const go = useNavigate();
  const here = useLocation();
  const [params] = useSearchParams();
  const onFloor = here.pathname === "/";
  const found = onFloor ? (params.get("find") ?? "") : "";
  // The field keeps its own text: the address follows a moment later, and must
  // not take back letters typed meanwhile.
  const [typed, setTyped] = useState(found);
  const [typing, setTyping] = useState(false);
  const [seen, setSeen] = useState(here.key);
  if (seen !== here.key) {
    setSeen(here.key);
    if (!typing) setTyped(found);
  }
  return (
    <label className="ml-auto flex h-11 min-w-0 flex-1 items-center gap-2 rounded-sm border-[1.5px] border-line bg-card px-2.5 text-soft focus-within:border-ink md:max-w-[250px]">
      <Search size={17} aria-hidden className="shrink-0" />
      <input
        ref={input}
        type="search"
        aria-label="Find a job by tag, vehicle or customer"
        placeholder="tag, vehicle, customer"
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          const next = new URLSearchParams(onFloor ? params : undefined);
          if (e.target.value) next.set("find", e.target.value);
          else next.delete("find");
          void go({ pathname: "/", search: next.toString() }, { replace: onFloor });
        }}
        onFocus={() => setTyping(true)}
        onBlur={() => setTyping(false)}
        onKeyDown={(e) => e.key === "Escape" && e.currentTarget.blur()}
        className="h-full w-full min-w-0 bg-transparent text-[15px] text-ink outline-none placeholder:text-soft"
      />
      <kbd className="hidden md:inline">/</kbd>
    </label>
  );
}
