import { useEffect } from "react";
import { useSearchParams } from "react-router";
import type { Bank as Body, ChargerView } from "../../lib/api";
import { useNarrow } from "../../lib/pointer";
import { useBank } from "../../lib/queries";
import { Failure, Loading } from "../../parts/Failure";
import { ChargerForm } from "./ChargerForm";
import { HangOn } from "./HangOn";
import { OnIt } from "./OnIt";
import type { Place } from "./place";
import { Elsewhere, Rail } from "./Rail";
import { Waiting } from "./Waiting";

/** The shop's chargers along their rail, what hangs on them, and what waits for them. */
export function Bank() {
  const bank = useBank();
  const narrow = useNarrow();
  const [params, setParams] = useSearchParams();
  useEffect(() => {
    document.title = "Bank · Grapnel";
    return () => {
      document.title = "Grapnel";
    };
  }, []);
  if (bank.isPending) return <Loading what="the bank" />;
  if (bank.isError && !bank.data) return <Failure error={bank.error} retry={() => void bank.refetch()} />;
  const { chargers, waiting, elsewhere } = bank.data;
  const open = (to: Place) => {
    setParams(Object.fromEntries(Object.entries(to).filter(([, v]) => v !== undefined)));
    if (narrow) window.scrollTo(0, 0);
  };
  const named = params.get("charger") ?? undefined;
  const job = params.get("job") ?? undefined;
  const edit = params.get("edit") ?? undefined;
  // On a wide screen something is always open: what most needs hands.
  const at = chargers.find((c) => c.id === named) ?? (narrow || job ? undefined : mostUrgent(bank.data));
  const panel = edit ? (
    <ChargerForm
      key={edit}
      unit={chargers.find((c) => c.id === edit)}
      kinds={bank.data.kinds}
      onDone={(id) => open(id ? { charger: id } : {})}
    />
  ) : at?.hung && !job ? (
    <OnIt key={at.hung.job_id} charger={at} hung={at.hung} open={open} />
  ) : at || job ? (
    <HangOn key={`${at?.id} ${job}`} bank={bank.data} charger={at} job={job} open={open} />
  ) : undefined;
  if (narrow && panel)
    return (
      <div className="px-4 pb-6">
        <h1 className="sr-only">Bank</h1>
        <button className="btn btn-quiet -ml-2.5" onClick={() => open({})}>
          ← All chargers
        </button>
        {panel}
      </div>
    );
  return (
    <div className="mx-auto max-w-[1600px] pb-4">
      <h1 className="sr-only">Bank</h1>
      <Rail chargers={chargers} at={edit ?? at?.id} waiting={waiting} open={open} />
      <div className="grid gap-x-5 px-4 md:px-6 lg:grid-cols-[250px_minmax(0,1fr)]">
        <div className="pt-4">
          <Waiting bank={bank.data} open={open} job={job} />
          {elsewhere.length > 0 && <Elsewhere hung={elsewhere} />}
          <button className="btn btn-quiet mt-3 -ml-2.5" onClick={() => open({ edit: "new" })}>
            Add a charger
          </button>
        </div>
        {panel ? (
          <div className="min-w-0 border-line bg-card px-4 py-4 max-lg:order-first max-lg:mt-3 max-lg:border-y md:px-5 lg:border-l">
            {panel}
          </div>
        ) : (
          chargers.length === 0 && <NoChargers onAdd={() => open({ edit: "new" })} />
        )}
      </div>
    </div>
  );
}

/** What most needs hands: a stop, something to act on, the soonest look, then a free charger. */
function mostUrgent(bank: Body): ChargerView | undefined {
  const weight = (c: ChargerView) => (c.hung?.sign === "stop" ? 0 : c.hung?.sign === "act" ? 1 : 2);
  const hung = bank.chargers.filter((c) => c.hung);
  const soonest = [...hung].sort(
    (a, b) => weight(a) - weight(b) || (a.hung!.check_at ?? "~").localeCompare(b.hung!.check_at ?? "~"),
  );
  return soonest[0] ?? bank.chargers[0];
}

function NoChargers({ onAdd }: { onAdd: () => void }) {
  return (
    <div className="max-w-[56ch] py-6">
      <p className="text-[20px] font-[720]">No charger hangs on the rail yet.</p>
      <p className="mt-1 text-soft">
        Say once what each charger is: its kind, the amps it gives, its switches. From then on Grapnel says which
        battery goes on which, when it is ready and when it is full.
      </p>
      <button className="btn btn-act mt-4" onClick={onAdd}>
        Add the first charger
      </button>
    </div>
  );
}
