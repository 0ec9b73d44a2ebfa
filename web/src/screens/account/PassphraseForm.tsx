import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, got, Refused } from "../../lib/api";
import { usePerson, useShowSession } from "../../lib/queries";
import { Entry } from "../../parts/Entry";

/** Changes one's own passphrase. */
export function PassphraseForm({ onDone }: { onDone?: () => void }) {
  const person = usePerson();
  const show = useShowSession();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const [seen, setSeen] = useState(false);
  const save = useMutation({
    mutationFn: () => got(api.PUT("/api/session/passphrase", { body: { old, new: fresh } })),
    onSuccess: (session) => {
      setOld("");
      setFresh("");
      show(session);
      onDone?.();
    },
  });
  const refused = save.error instanceof Refused ? save.error : undefined;
  const wrong = { old: refused?.at("old"), fresh: refused?.at("new") };
  return (
    <form
      className="grid max-w-[460px] gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (!save.isPending) save.mutate();
      }}
    >
      <input className="sr-only" autoComplete="username" tabIndex={-1} aria-hidden value={person.name} readOnly />
      <Entry
        name={person.must_change ? "The temporary passphrase" : "Passphrase now"}
        value={old}
        onChange={setOld}
        error={wrong.old}
        type="password"
        autoComplete="current-password"
        required
      />
      <Entry
        name="New passphrase"
        value={fresh}
        onChange={setFresh}
        error={wrong.fresh}
        hint="Twelve characters or more. Four words that have nothing to do with each other do well; spaces count."
        type={seen ? "text" : "password"}
        autoComplete="new-password"
        required
      />
      <label className="flex min-h-11 items-center gap-2.5">
        <input type="checkbox" className="h-5 w-5" checked={seen} onChange={(e) => setSeen(e.target.checked)} />
        Show the new one
      </label>
      {refused && !wrong.old && !wrong.fresh && (
        <p role="alert" className="font-[560] text-oxide">
          {refused.message}
        </p>
      )}
      <button className="btn justify-self-start" disabled={!old || !fresh || save.isPending}>
        {save.isPending ? "Saving …" : "Change the passphrase"}
      </button>
    </form>
  );
}
