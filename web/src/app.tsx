import { useQueryClient } from "@tanstack/react-query";
import { Suspense, useEffect } from "react";
import { Route, Routes } from "react-router";
import { Refused } from "./lib/api";
import { PersonHere, useSession } from "./lib/queries";
import { writeWith } from "./lib/figures";
import { Failure, Loading } from "./parts/Failure";
import { Nowhere } from "./parts/Nowhere";
import { Shell } from "./parts/Shell";
import {
  Account,
  Bank,
  BatteryLife,
  Guide,
  Shelf,
  Season,
  PutAway,
  RoundWalk,
  SeasonPlace,
  HouseRules,
  JobSheet,
  Jump,
  InAndOut,
  MustChange,
  NewJob,
  People,
  Prices,
  Register,
  ShopHistory,
  TagGoes,
} from "./places";
import { Floor } from "./screens/floor/Floor";
import { SignIn } from "./screens/signin/SignIn";

export function App() {
  const session = useSession();
  useSignedOut();
  useTheme(session.data?.person?.theme);
  writeWith(session.data?.person?.decimal);
  if (session.isPending) return <Loading what="your session" />;
  if (session.isError && !session.data) return <Failure error={session.error} retry={() => void session.refetch()} />;
  // The address stays, so that signing in goes on where it stopped.
  if (!session.data.person) return <SignIn demo={session.data.demo ?? []} byPIN={session.data.by_pin} />;
  if (session.data.person.must_change)
    return (
      <PersonHere value={session.data.person}>
        <Suspense fallback={<Loading what="the page" />}>
          <MustChange />
        </Suspense>
      </PersonHere>
    );
  return (
    <PersonHere value={session.data.person}>
      <Shell>
        <Suspense fallback={<Loading what="the page" />}>
          <Routes>
            <Route path="/" element={<Floor />} />
            <Route path="/jobs/new" element={<NewJob />} />
            <Route path="/jobs/:id" element={<JobSheet />} />
            <Route path="/jobs/:id/guide/:what" element={<Guide />} />
            <Route path="/shelf" element={<Shelf />} />
            <Route path="/season" element={<Season />} />
            <Route path="/season/new" element={<PutAway />} />
            <Route path="/season/round" element={<RoundWalk />} />
            <Route path="/season/place" element={<SeasonPlace />} />
            <Route path="/season/:id" element={<Season />} />
            <Route path="/season/:id/change" element={<PutAway />} />
            <Route path="/bank" element={<Bank />} />
            <Route path="/jump" element={<Jump />} />
            <Route path="/register" element={<Register />} />
            <Route path="/register/:tag" element={<BatteryLife />} />
            <Route path="/rules" element={<HouseRules />} />
            <Route path="/people" element={<People />} />
            <Route path="/history" element={<ShopHistory />} />
            <Route path="/prices" element={<Prices />} />
            <Route path="/in-and-out" element={<InAndOut />} />
            <Route path="/t/:tag" element={<TagGoes />} />
            <Route path="/account" element={<Account />} />
            <Route
              path="*"
              element={<Nowhere what="There is nothing here." more="The address is wrong, or the page has moved." />}
            />
          </Routes>
        </Suspense>
      </Shell>
    </PersonHere>
  );
}

/** Asks for the session again as soon as any answer says that it has ended. */
function useSignedOut() {
  const queries = useQueryClient();
  useEffect(() => {
    const ended = (error: unknown) => {
      if (error instanceof Refused && error.status === 401) void queries.invalidateQueries({ queryKey: ["session"] });
    };
    const one = queries
      .getQueryCache()
      .subscribe((e) => e.type === "updated" && e.action.type === "error" && ended(e.action.error));
    const two = queries
      .getMutationCache()
      .subscribe((e) => e.type === "updated" && e.action.type === "error" && ended(e.action.error));
    return () => {
      one();
      two();
    };
  }, [queries]);
}

/** Applies a person's theme, and keeps it for the next first paint. */
function useTheme(theme: "system" | "light" | "dark" | undefined) {
  useEffect(() => {
    if (!theme) return;
    if (theme === "system") delete document.documentElement.dataset.theme;
    else document.documentElement.dataset.theme = theme;
    try {
      localStorage.setItem("grapnel.theme", theme);
    } catch {
      // The next page starts in the system's theme.
    }
  }, [theme]);
}
