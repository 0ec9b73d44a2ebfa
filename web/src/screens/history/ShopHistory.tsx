import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, got } from "../../lib/api";
import { useFirst } from "../../lib/first";
import { PickOne } from "../../parts/Chips";
import { Failure, Loading } from "../../parts/Failure";
import { Changes } from "./Changes";

const PART = 100;

const kinds = [
  { code: "changes", word: "Changes" },
  { code: "sign_ins", word: "Sign-ins" },
  { code: "all", word: "All" },
];

/** What was changed in the shop, by whom and when; a lead's place. */
export function ShopHistory() {
  const [from, setFrom] = useState(0);
  const [only, setOnly] = useState("changes");
  const history = useQuery({
    queryKey: ["history", only, from],
    queryFn: () =>
      got(
        api.GET("/api/history", {
          params: { query: { from, most: PART, ...(only === "all" ? {} : { only: only as "changes" | "sign_ins" }) } },
        }),
      ),
    placeholderData: keepPreviousData,
  });
  const place = useRef<HTMLDivElement>(null);
  useFirst(place, `history ${history.isSuccess}`);
  if (history.isPending) return <Loading what="the history" />;
  if (history.isError) return <Failure error={history.error} retry={() => void history.refetch()} />;
  const { changes, all } = history.data;
  return (
    <div ref={place} className="mx-auto max-w-[1000px] px-4 py-4 md:px-6">
      <h1 className="tight text-[34px] leading-none font-[780]">History</h1>
      <p className="mt-2 max-w-[70ch] text-soft">
        Every change in the shop, the newest first. Readings stand in the history of their job.
      </p>
      <div className="mt-3">
        <PickOne
          row
          label="What of it"
          chips={kinds}
          value={only}
          onPick={(code) => {
            setOnly(code);
            setFrom(0);
          }}
        />
      </div>
      <div className={`mt-4 ${history.isPlaceholderData ? "opacity-45" : ""}`}>
        <Changes changes={changes} />
      </div>
      {all > PART && (
        <div className="flex flex-wrap items-center gap-3 py-4" role="status">
          <button className="btn btn-line" disabled={from === 0} onClick={() => setFrom(Math.max(0, from - PART))}>
            Newer
          </button>
          <span>
            {from + 1} to {from + changes.length} of {all}
          </span>
          <button className="btn btn-line" disabled={from + PART >= all} onClick={() => setFrom(from + PART)}>
            Older
          </button>
        </div>
      )}
    </div>
  );
}
