import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState, type ReactNode } from "react";
import { api, got, Refused, type Session } from "../../lib/api";
import { comeToSee, useFirst } from "../../lib/first";
import { say } from "../../lib/notices";
import { usePerson, useShowSession } from "../../lib/queries";
import { when } from "../../lib/time";
import { PickOne } from "../../parts/Chips";
import { Entry } from "../../parts/Entry";
import { Failure, Loading } from "../../parts/Failure";
import { PassphraseForm } from "./PassphraseForm";

/** One's own account: how one comes in, and where one is in. */
export function Account() {
  const person = usePerson();
  const place = useRef<HTMLDivElement>(null);
  useFirst(place, "account");
  return (
    <div ref={place} className="mx-auto max-w-[1000px] px-4 py-4 md:px-6">
      <h1 className="tight text-[34px] leading-none font-[780]">{person.name}</h1>
      <p className="mt-1 text-soft">
        {person.role} at {person.workshop}
      </p>
      {person.by_pin && (
        <p className="mt-4 max-w-[70ch] border-l-4 border-copper bg-card px-3.5 py-2">
          You came in by PIN. To change your PIN or your second factor, sign out and sign in with your passphrase.
        </p>
      )}
      <Part title="Where you are signed in" why="A device you do not know, or one that is lost: end it there.">
        <Devices />
      </Part>
      <Part
        title="Figures"
        why="How volts and amounts are written for you, on screens and on paper. You may type either."
      >
        <Figures />
      </Part>
      <Part
        title="Passphrase"
        why="A new one ends your other sessions. What you enter meanwhile on other devices is kept there."
      >
        <PassphraseForm onDone={() => say({ text: "The passphrase is changed.", kind: "ok" })} />
      </Part>
      {!person.by_pin && (
        <>
          <Part
            title="PIN"
            why="On a shared tablet, to come in quickly after somebody else. It is good on a device where you signed in with your passphrase in the last twelve hours, and until it was wrong five times."
          >
            <PINForm />
          </Part>
          <Part
            title="Second factor"
            why={`A code from a device in your pocket, asked for beside the passphrase.${person.role === "lead" ? " Leads hold the keys of the shop: turn it on." : ""}`}
          >
            <Second />
          </Part>
        </>
      )}
    </div>
  );
}

function Figures() {
  const person = usePerson();
  const show = useShowSession();
  const queries = useQueryClient();
  const prefer = useMutation({
    mutationFn: (decimal: "point" | "comma") => got(api.PUT("/api/session/preferences", { body: { decimal } })),
    onSuccess: (session) => {
      show(session);
      void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "session" });
    },
    onError: (error) => say({ text: `Not changed. ${error.message}`, kind: "act" }),
  });
  return (
    <PickOne
      label="How figures are written"
      chips={[
        { code: "point", word: "12.65 V" },
        { code: "comma", word: "12,65 V" },
      ]}
      value={person.decimal}
      onPick={(code) => prefer.mutate(code as "point" | "comma")}
    />
  );
}

function Part({ title, why, children }: { title: string; why: string; children: ReactNode }) {
  return (
    <section className="mt-5 grid gap-x-8 gap-y-3 border-t border-line pt-4 md:grid-cols-[300px_1fr]">
      <div>
        <h2 className="text-[20px] font-[740]">{title}</h2>
        <p className="mt-0.5 text-[14.5px] text-soft">{why}</p>
      </div>
      <div>{children}</div>
    </section>
  );
}

function Devices() {
  const queries = useQueryClient();
  const devices = useQuery({ queryKey: ["devices"], queryFn: () => got(api.GET("/api/session/devices")) });
  const end = useMutation({
    mutationFn: (id: string | undefined) =>
      got(
        id ? api.DELETE("/api/session/devices/{id}", { params: { path: { id } } }) : api.DELETE("/api/session/devices"),
      ),
    onSuccess: (body) => {
      queries.setQueryData(["devices"], body);
      say({ text: "Ended. It needs the passphrase to come in again.", kind: "ok" });
    },
    onError: (error) => say({ text: `Not ended. ${error.message}`, kind: "act" }),
  });
  if (devices.isPending) return <Loading what="your devices" />;
  if (devices.isError) return <Failure error={devices.error} retry={() => void devices.refetch()} />;
  const all = devices.data.devices;
  return (
    <>
      <ul className="border-b border-line">
        {all.map((d) => (
          <li key={d.id} className="flex min-h-14 flex-wrap items-center gap-x-4 border-t border-line py-1.5">
            <span className="min-w-0 flex-1">
              <b className="font-[680]">{d.name}</b>
              {d.by_pin && " by PIN"}
              <span className="block text-[14px] text-soft">
                since {when(d.began_at)}, last seen about {when(d.seen_at)}
              </span>
            </span>
            {d.this ? (
              <span className="px-2 text-verdigris">this one</span>
            ) : (
              <button className="btn btn-line" disabled={end.isPending} onClick={() => end.mutate(d.id)}>
                End it
              </button>
            )}
          </li>
        ))}
      </ul>
      {all.length > 2 && (
        <button className="btn btn-line mt-3" disabled={end.isPending} onClick={() => end.mutate(undefined)}>
          End all but this one
        </button>
      )}
    </>
  );
}

function PINForm() {
  const person = usePerson();
  const show = useShowSession();
  const [passphrase, setPassphrase] = useState("");
  const [pin, setPIN] = useState("");
  const save = useMutation({
    mutationFn: (pin: string) => got(api.PUT("/api/session/pin", { body: { passphrase, pin } })),
    onSuccess: (session: Session) => {
      show(session);
      setPassphrase("");
      setPIN("");
      say({ text: session.person?.has_pin ? "The PIN is set." : "The PIN is taken away.", kind: "ok" });
    },
  });
  const refused = save.error instanceof Refused ? save.error : undefined;
  return (
    <form
      className="grid max-w-[460px] gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (pin) save.mutate(pin);
      }}
    >
      <p>{person.has_pin ? "You have one. A new one takes its place." : "You have none."}</p>
      <Entry
        name="Your passphrase"
        value={passphrase}
        onChange={setPassphrase}
        error={refused?.at("passphrase")}
        type="password"
        autoComplete="current-password"
      />
      <Entry
        name="New PIN, 4 to 8 digits"
        value={pin}
        onChange={(v) => setPIN(v.replace(/\D/g, ""))}
        error={refused?.at("pin")}
        type="password"
        inputMode="numeric"
        maxLength={8}
      />
      {refused && !refused.at("passphrase") && !refused.at("pin") && (
        <p role="alert" className="font-[560] text-oxide">
          {refused.message}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <button className="btn" disabled={!passphrase || !pin || save.isPending}>
          Set the PIN
        </button>
        {person.has_pin && (
          <button
            type="button"
            className="btn btn-line"
            disabled={!passphrase || save.isPending}
            onClick={() => save.mutate("")}
          >
            Take it away
          </button>
        )}
      </div>
    </form>
  );
}

function Second() {
  const person = usePerson();
  const show = useShowSession();
  const queries = useQueryClient();
  const [passphrase, setPassphrase] = useState("");
  const [code, setCode] = useState("");
  const offer = useMutation({
    mutationFn: () => got(api.POST("/api/session/second-factor", { body: { passphrase } })),
    onSuccess: () => setPassphrase(""),
  });
  const prove = useMutation({
    mutationFn: () => got(api.PUT("/api/session/second-factor", { body: { code } })),
    onSuccess: () => {
      setCode("");
      void queries.invalidateQueries({ queryKey: ["session"] });
    },
  });
  const drop = useMutation({
    mutationFn: () => got(api.DELETE("/api/session/second-factor", { body: { passphrase } })),
    onSuccess: (session) => {
      show(session);
      setPassphrase("");
      prove.reset();
      offer.reset();
      say({ text: "The second factor is off." });
    },
  });
  if (prove.data)
    return (
      <div ref={comeToSee} className="max-w-[520px]">
        <p className="font-[680]">It is on. Keep these recovery codes where you keep the shop’s keys.</p>
        <p className="text-soft">
          Each brings you in once, when the device with the codes is lost. They are not shown again.
        </p>
        <ul className="mt-3 grid grid-cols-2 gap-x-6 gap-y-1 font-mono text-[15.5px] select-all max-sm:grid-cols-1">
          {prove.data.recovery.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
        <div className="mt-4 flex gap-2">
          <button className="btn" onClick={() => prove.reset()}>
            I have kept them
          </button>
          <button className="btn btn-line" onClick={() => window.print()}>
            Print
          </button>
        </div>
      </div>
    );
  if (offer.data && !person.second_factor)
    return (
      <form
        ref={comeToSee}
        className="grid max-w-[520px] gap-3 sm:grid-cols-[200px_1fr]"
        onSubmit={(e) => {
          e.preventDefault();
          if (code) prove.mutate();
        }}
      >
        <img src={offer.data.qr} alt="The secret as a picture, for an authenticator to scan" className="h-50 w-50" />
        <div className="grid content-start gap-3">
          <p>Scan it with an authenticator, or type the secret:</p>
          <p className="font-mono text-[15px] break-all select-all">{offer.data.secret}</p>
          <Entry
            name="The code it shows now"
            value={code}
            onChange={setCode}
            error={prove.error instanceof Refused ? (prove.error.at("code") ?? prove.error.message) : undefined}
            inputMode="numeric"
            autoComplete="one-time-code"
            maxLength={7}
          />
          <div className="flex flex-wrap gap-2">
            <button className="btn" disabled={!code || prove.isPending}>
              Turn it on
            </button>
            <button type="button" className="btn btn-line" onClick={() => offer.reset()}>
              Leave it
            </button>
          </div>
        </div>
      </form>
    );
  const on = person.second_factor;
  const failed = on ? drop.error : offer.error;
  return (
    <form
      className="grid max-w-[460px] gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        if (on) drop.mutate();
        else offer.mutate();
      }}
    >
      <p>{on ? "It is on." : "It is off."}</p>
      <Entry
        name="Your passphrase"
        value={passphrase}
        onChange={setPassphrase}
        error={failed instanceof Refused ? (failed.at("passphrase") ?? failed.message) : undefined}
        type="password"
        autoComplete="current-password"
      />
      <button
        className={`btn justify-self-start ${on ? "btn-line" : ""}`}
        disabled={!passphrase || offer.isPending || drop.isPending}
      >
        {on ? "Turn it off" : "Set it up"}
      </button>
    </form>
  );
}
