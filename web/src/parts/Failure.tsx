import { Sign } from "./Sign";

/** Something did not load: what, and a way to try again. */
export function Failure({ error, retry }: { error: Error; retry: () => void }) {
  return (
    <div role="alert" className="m-6 max-w-[60ch]">
      <p className="flex items-center gap-2 text-xl font-[720] text-oxide">
        <Sign kind="stop" bare /> This did not load.
      </p>
      <p className="mt-1">{error.message}</p>
      <button className="btn mt-4" onClick={retry}>
        Try again
      </button>
    </div>
  );
}

/** Something is being fetched and takes long enough to say so. */
export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="m-6 animate-[fade_.4s_.3s_both] text-soft">
      Fetching {what} …
    </p>
  );
}
