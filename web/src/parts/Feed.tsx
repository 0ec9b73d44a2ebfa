import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, got } from "../lib/api";

const feeds = {
  season: {
    path: "/api/season/feed",
    name: "In your calendar",
    says: "An address of your own that a calendar program asks now and then. Whoever has it reads the dates: give it to nobody.",
  },
  shop: {
    path: "/api/shop/feed",
    name: "The shop’s calendar",
    says: "Next looks, promises and what stands in store, at an address that calendar programs ask now and then. Whoever has it reads the dates: a new one puts an end to the one before.",
  },
} as const;

/** Dates in a calendar, by an address with a secret: one's own, or that of the shop. */
export function Feed({ of, mayChange = true }: { of: keyof typeof feeds; mayChange?: boolean }) {
  const { path, name, says } = feeds[of];
  const queries = useQueryClient();
  const feed = useQuery({ queryKey: [of, "feed"], queryFn: () => got(api.GET(path)) });
  const change = useMutation({
    mutationFn: (on: boolean) => got(on ? api.POST(path) : api.DELETE(path)),
    onSuccess: (body) => queries.setQueryData([of, "feed"], body),
  });
  const made = change.data?.path;
  const error = feed.error ?? change.error;
  return (
    <section aria-label={name} className="mt-6">
      <h2 className="text-[18px] font-[700]">{name}</h2>
      <p className="text-soft">{says}</p>
      {made && (
        <p className="mt-2 border-l-4 border-copper bg-card px-3 py-2 break-all" role="status">
          <b className="block font-[650]">Copy it now, it is told once:</b>
          <span data-testid="feed">{new URL(made, window.location.origin).toString()}</span>
        </p>
      )}
      {mayChange ? (
        <div className="mt-2 flex flex-wrap gap-3">
          <button className="btn btn-line" disabled={change.isPending} onClick={() => change.mutate(true)}>
            {feed.data?.on ? "Make a new address" : "Make an address"}
          </button>
          {feed.data?.on && (
            <button className="btn btn-line" disabled={change.isPending} onClick={() => change.mutate(false)}>
              Take it away
            </button>
          )}
        </div>
      ) : (
        feed.data && (
          <p className="mt-1">{feed.data.on ? "There is one; a lead can renew it." : "A lead can make one."}</p>
        )
      )}
      {error && (
        <p role="alert" className="mt-2 text-oxide">
          {error.message}
        </p>
      )}
    </section>
  );
}
