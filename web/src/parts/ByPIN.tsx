import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, got, Refused } from "../lib/api";
import { Entry } from "./Entry";

/** Brings somebody in by PIN, on a device where they came in with their passphrase not long ago. */
export function ByPIN({ name, onLeave }: { name: string; onLeave: () => void }) {
  const [pin, setPIN] = useState("");
  const come = useMutation({
    mutationFn: () => got(api.POST("/api/session/switch", { body: { name, pin } })),
    // A new page knows nothing of who was here before.
    onSuccess: () => window.location.reload(),
    onError: () => setPIN(""),
  });
  const over = come.error instanceof Refused && come.error.problem.type === "urn:grapnel:pin-over";
  return (
    <form
      className="grid gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (pin && !come.isPending) come.mutate();
      }}
    >
      {over ? (
        <p role="alert" className="font-[560] text-oxide">
          {come.error?.message}
        </p>
      ) : (
        <Entry
          name={`PIN of ${name}`}
          value={pin}
          onChange={(v) => setPIN(v.replace(/\D/g, ""))}
          error={come.error?.message}
          type="password"
          inputMode="numeric"
          maxLength={8}
          autoFocus
        />
      )}
      <div className="flex flex-wrap gap-2">
        {!over && (
          <button className="btn" disabled={!pin || come.isPending}>
            {come.isPending ? "Coming in …" : `Come in as ${name}`}
          </button>
        )}
        <button type="button" className="btn btn-line" onClick={onLeave}>
          {over ? "Close" : "Leave it"}
        </button>
      </div>
    </form>
  );
}
