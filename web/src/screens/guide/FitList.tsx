import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, got, type Fit, type Guide, type Ranked } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { Failure, Loading } from "../../parts/Failure";
import { Sign } from "../../parts/Sign";
import { NeedsForm } from "./NeedsForm";

export const useFit = (job: string) =>
  useQuery({
    queryKey: ["stock", "fit", job],
    queryFn: () => got(api.GET("/api/jobs/{id}/fit", { params: { path: { id: job } } })),
  });

/** What of the shelf goes into this vehicle: the first first, with the reason; a tap takes it. */
export function FitList({
  job,
  guide,
  onTake,
}: {
  job: string;
  guide: Guide;
  onTake: (tags: string, reason: string) => void;
}) {
  const fit = useFit(job);
  const queries = useQueryClient();
  const [needs, setNeeds] = useState(false);
  const [open, setOpen] = useState<string>();
  const [picked, setPicked] = useState<string[]>([]);
  const [reason, setReason] = useState("");
  const lead = usePerson().role === "lead";
  if (fit.error) return <Failure error={fit.error} retry={() => void fit.refetch()} />;
  if (!fit.data) return <Loading what="the shelf" />;
  const want = guide.drawn.pair ? 2 : 1;
  const f: Fit = fit.data;
  if (needs)
    return (
      <NeedsForm
        needs={f.needs}
        onCancel={() => setNeeds(false)}
        onSave={async (n) => {
          const now = await got(
            api.PUT("/api/jobs/{id}/needs", { params: { path: { id: job } }, body: n as unknown as string }),
          );
          queries.setQueryData(["stock", "fit", job], now);
          setNeeds(false);
        }}
      />
    );
  const take = (one: Ranked) => {
    const now = picked.includes(one.tag) ? picked.filter((t) => t !== one.tag) : [...picked, one.tag].slice(-want);
    setPicked(now);
  };
  const doubtful = f.ranked.filter((r) => picked.includes(r.tag) && (!r.fits || r.test_first || r.charge_first));
  return (
    <div className="min-w-0">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line pb-1">
        <p className="min-w-0 flex-1 basis-[220px] text-[15px] leading-snug">
          <b className="font-[680]">{f.why}</b>{" "}
          <span className="text-soft">
            {f.said ? "By what its maker asks." : "By the label of the one in it."}
            {f.sizes.length > 0 && ` Sizes: ${f.sizes.slice(0, 4).join(", ")}.`}
          </span>
        </p>
        <button className="btn btn-quiet" onClick={() => setNeeds(true)}>
          What its maker asks
        </button>
      </div>
      <ul>
        {f.ranked.map((r) => (
          <Row
            key={r.tag}
            one={r}
            picked={picked.includes(r.tag)}
            open={open === r.tag}
            onOpen={() => setOpen(open === r.tag ? undefined : r.tag)}
            onTake={() => take(r)}
          />
        ))}
      </ul>
      {f.ranked.length === 0 && (
        <p className="py-4 text-[17px]">
          Nothing is on the shelf.{" "}
          <Link className="underline underline-offset-4" to="/shelf">
            Put the new one there
          </Link>
          , with its label and its test.
        </p>
      )}
      {doubtful.length > 0 && (
        <label className="mt-2 block border-l-4 border-copper pl-3 text-[15px]">
          {lead
            ? "It does not suit, or is not ready. Why all the same?"
            : "It does not suit, or is not ready: a lead can say why it goes in all the same."}
          {lead && (
            <input className="field mt-1" value={reason} maxLength={300} onChange={(e) => setReason(e.target.value)} />
          )}
        </label>
      )}
      <div className="sticky bottom-[calc(var(--strip-h)+env(safe-area-inset-bottom))] -mx-1 bg-paper px-1 pt-2 pb-1">
        <button
          data-done
          className="btn btn-act min-h-[72px]! w-full text-[22px]!"
          disabled={picked.length < want || (doubtful.length > 0 && (!lead || !reason.trim()))}
          onClick={() => onTake(picked.join(","), reason.trim())}
        >
          {picked.length === want
            ? `${picked.join(" and ")} goes in`
            : want === 2
              ? "Pick the two that go in"
              : "Pick the one that goes in"}
        </button>
      </div>
    </div>
  );
}

function Row({
  one,
  picked,
  open,
  onOpen,
  onTake,
}: {
  one: Ranked;
  picked: boolean;
  open: boolean;
  onOpen: () => void;
  onTake: () => void;
}) {
  const wrong = one.lines.find((l) => !l.ok);
  const unsure = one.lines.filter((l) => l.unsure);
  const why =
    wrong?.text ??
    (one.test_first
      ? "Test it first."
      : one.charge_first
        ? "Charge it first."
        : unsure.length > 0
          ? (unsure[0]?.text ?? "")
          : "Suits, tested, charged.");
  return (
    <li className={`border-b border-line ${picked ? "bg-card outline-2 -outline-offset-2 outline-copper" : ""}`}>
      <div className="flex items-stretch">
        <button
          className="flex min-h-16 min-w-0 flex-1 items-center gap-3 px-2 py-2 text-left hover:bg-hush"
          aria-pressed={picked}
          onClick={onTake}
        >
          <Sign
            kind={!one.fits ? "stop" : one.test_first || one.charge_first || unsure.length > 0 ? "act" : "ok"}
            bare
          />
          <span className="min-w-0">
            <span className="block leading-tight">
              <b className="tight text-[20px] font-[760]">{one.tag}</b> <span className="text-[15px]">{one.about}</span>
            </span>
            <span className="block text-[14.500px] leading-snug text-soft">{why}</span>
          </span>
        </button>
        <button className="btn btn-quiet min-w-14" aria-expanded={open} onClick={onOpen}>
          {open ? "Less" : "Why"}
          <span className="sr-only">, {one.tag}</span>
        </button>
      </div>
      {open && (
        <ul className="px-2 pb-2 text-[14.500px]">
          {one.lines.map((l) => (
            <li key={l.rule} className="flex items-start gap-2.5 py-0.5">
              <span className="pt-[3px]">
                <Sign kind={!l.ok ? "stop" : l.unsure ? "act" : "ok"} bare />
              </span>
              {l.text}
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}
