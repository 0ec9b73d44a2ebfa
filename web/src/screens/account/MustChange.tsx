import { useMutation } from "@tanstack/react-query";
import { api, got } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { PassphraseForm } from "./PassphraseForm";

/** Whoever has a temporary passphrase chooses their own before anything else. */
export function MustChange() {
  const person = usePerson();
  const signOut = useMutation({
    mutationFn: () => got(api.DELETE("/api/session")),
    onSuccess: () => window.location.assign("/"),
  });
  return (
    <main className="mx-auto max-w-[560px] px-5 py-10">
      <h1 className="tight text-[34px] leading-tight font-[780]">Welcome, {person.name}</h1>
      <p className="mt-2 mb-6 text-[17px]">
        The passphrase you were given is a temporary one, and whoever gave it knows it. Choose your own, and the work
        begins.
      </p>
      <PassphraseForm />
      <button className="btn btn-quiet mt-4 px-0!" onClick={() => signOut.mutate()}>
        Sign out instead
      </button>
    </main>
  );
}
