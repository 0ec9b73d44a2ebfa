import { Suspense, useCallback, useEffect, useRef, useState, type ReactNode } from "react";
import { Link, NavLink, useLocation } from "react-router";
import { useCalling } from "../lib/calling";
import { useKeys, useSaveKey } from "../lib/keys";
import { useGo } from "../lib/leaving";
import { useLive } from "../lib/live";
import { useOutbox } from "../lib/outbox";
import { usePerson } from "../lib/queries";
import { allAhead, KeysHelp, PersonMenu } from "../places";
import { Boundary } from "./Broken";
import { ClockStrip } from "./ClockStrip";
import { Find } from "./Find";
import { LineState } from "./LineState";
import { LoadRunning } from "./LoadRunning";
import { Mark } from "./Mark";
import { Notices } from "./Notices";
import { PersonButton } from "./PersonButton";

const places = [
  { to: "/", word: "Floor", key: "f" },
  { to: "/bank", word: "Bank", key: "b" },
  { to: "/season", word: "Season", key: "w" },
  { to: "/jump", word: "Jump", key: "j" },
  { to: "/shelf", word: "Shelf", key: "s" },
  { to: "/register", word: "Register", key: "r" },
  { to: "/rules", word: "House rules", key: "h" },
];

/** The frame around every place: where one can go, find, who is signed in, the line, the clock. */
export function Shell({ children }: { children: ReactNode }) {
  const go = useGo();
  const { pathname } = useLocation();
  const person = usePerson();
  const find = useRef<HTMLInputElement>(null);
  const [help, setHelp] = useState(false);
  const [menu, setMenu] = useState(false);
  const led = useRef(false); // g was pressed; the next letter names a place
  useLive();
  useOutbox(person.name);
  useCalling();
  useHeadingFocus();
  useSaveKey();
  useEffect(() => {
    const timer = setTimeout(() => void allAhead(), 1_500);
    return () => clearTimeout(timer);
  }, []);
  useKeys(
    useCallback(
      (key, event) => {
        const place = led.current ? places.find((p) => p.key === key) : undefined;
        led.current = key === "g" && !led.current;
        if (place) go(place.to);
        else if (key === "n") {
          event.preventDefault(); // the key must not be typed where the focus goes
          go("/jobs/new");
        } else if (key === "?") setHelp(true);
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
      <header className="screen-only sticky top-0 z-20 border-b-[1.5px] border-ink bg-paper [@media(max-height:480px)]:static">
        <div className="flex h-14 items-center gap-3 px-3 md:px-5 lg:gap-6">
          <Link
            to="/"
            className="flex h-12 min-w-11 items-center justify-center gap-2 text-xl font-extrabold tracking-tight"
            aria-label="grapnel, to the floor"
          >
            <Mark />
            <span className="tight hidden md:inline">grapnel</span>
          </Link>
          <nav className="flex h-full gap-1" aria-label="Places">
            {places.map((p) => (
              <NavLink
                key={p.to}
                to={p.to}
                end={p.to === "/"}
                className={({ isActive }) =>
                  `${p.to === "/" || p.to === "/bank" ? "flex" : p.to === "/rules" || p.to === "/register" ? "hidden lg:flex" : "hidden md:flex"} h-full items-center border-b-[3px] px-2.5 font-[560] whitespace-nowrap lg:px-3 ${isActive ? "border-copper text-ink" : "border-transparent text-soft hover:text-ink"}`
                }
              >
                {p.word}
              </NavLink>
            ))}
          </nav>
          <Find input={find} />
          {menu ? (
            <Suspense fallback={<PersonButton />}>
              <PersonMenu onHelp={() => setHelp(true)} />
            </Suspense>
          ) : (
            <PersonButton aria-haspopup="menu" onClick={() => setMenu(true)} />
          )}
        </div>
        <LineState />
        <LoadRunning />
        <Notices />
      </header>
      <main>
        <Boundary key={pathname}>{children}</Boundary>
      </main>
      <ClockStrip />
      {help && (
        <Suspense>
          <KeysHelp open onClose={() => setHelp(false)} />
        </Suspense>
      )}
    </>
  );
}

/** A place that does not say where the hands go first is at least read from its heading. */
function useHeadingFocus() {
  const { pathname } = useLocation();
  const first = useRef(true);
  useEffect(() => {
    if (first.current) {
      first.current = false;
      return;
    }
    // After the place itself had its say.
    const timer = setTimeout(() => {
      if (document.activeElement && document.activeElement !== document.body) return;
      const main = document.querySelector("main");
      const heading = main?.querySelector<HTMLElement>("[data-first]") ?? main?.querySelector<HTMLElement>("h1");
      if (!heading) return;
      if (heading.tagName === "H1") heading.tabIndex = -1;
      heading.focus({ preventScroll: true });
    }, 150);
    return () => clearTimeout(timer);
  }, [pathname]);
}
