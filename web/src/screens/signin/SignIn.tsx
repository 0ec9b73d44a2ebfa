import { useMutation } from "@tanstack/react-query";
import { Suspense, useRef, useState } from "react";
import { api, got, Refused, type Session } from "../../lib/api";
import { useShowSession } from "../../lib/queries";
import { whoseWait } from "../../lib/outbox";
import { Mark } from "../../parts/Mark";
import { Sign } from "../../parts/Sign";
import { ByPIN } from "../../places";

type Props = { demo: NonNullable<Session["demo"]>; byPIN: Session["by_pin"] };

export function SignIn({ demo, byPIN }: Props) {
  const [pinOf, setPINOf] = useState<string>();
  const [code, setCode] = useState("");
  const [asked, setAsked] = useState(false); // for the code of the second factor
  const codeField = useRef<HTMLInputElement>(null);
  const [name, setName] = useState("");
  const [passphrase, setPassphrase] = useState("");
  const [seen, setSeen] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  const show = useShowSession();
  const signIn = useMutation({
    mutationFn: (body: { name: string; passphrase: string; code?: string }) => got(api.POST("/api/session", { body })),
    onSuccess: show,
    onError: (error) => {
      setCode("");
      if (error instanceof Refused && error.problem.type === "urn:grapnel:second-factor") {
        setAsked(true);
        setTimeout(() => codeField.current?.focus());
        return;
      }
      setAsked(false);
      setPassphrase("");
      field.current?.focus();
    },
  });
  const error = signIn.error instanceof Refused ? signIn.error.message : undefined;
  const wrong = error ? { "aria-invalid": true, "aria-describedby": "signin-error" } : {};
  return (
    <main className="mx-auto grid min-h-[calc(100vh-70px)] max-w-[1040px] content-center gap-x-16 gap-y-8 px-5 py-8 md:grid-cols-[1.1fr_1fr]">
      <div className="md:self-center">
        <h1 className="flex items-center gap-3 text-[52px] leading-none font-extrabold tracking-tight">
          <span className="text-copper [&_svg]:h-12 [&_svg]:w-12">
            <Mark />
          </span>
          <span className="tight">grapnel</span>
        </h1>
        <p className="mt-4 max-w-[30ch] text-[21px] leading-snug">
          The battery bench: from “it won’t start” to a proven, recorded answer.
        </p>
        <svg viewBox="0 0 400 44" className="mt-7 hidden w-full max-w-[400px] md:block" aria-hidden>
          <circle cx="13" cy="20" r="10" fill="none" stroke="var(--ink)" strokeWidth="3" />
          <path
            d="M25 11H384L398 28H25Z"
            fill="var(--card)"
            stroke="var(--ink)"
            strokeWidth="2"
            strokeLinejoin="round"
          />
          <path d="M26 12H262V27H26Z" fill="var(--wet)" />
          <path d="M262 4V28" stroke="var(--copper)" strokeWidth="3" />
        </svg>
      </div>
      <div>
        <form
          className="grid gap-4"
          onSubmit={(e) => {
            e.preventDefault();
            signIn.mutate({ name: name.trim(), passphrase, ...(asked ? { code } : {}) });
          }}
        >
          <label className="block">
            <span className="cap">Name</span>
            <input
              className="field mt-1"
              name="name"
              autoComplete="username"
              value={name}
              onChange={(e) => setName(e.target.value)}
              autoFocus
              required
            />
          </label>
          <div className="relative">
            <label className="block">
              <span className="cap">Passphrase</span>
              <input
                className="field mt-1 pr-20!"
                name="passphrase"
                ref={field}
                type={seen ? "text" : "password"}
                autoComplete="current-password"
                value={passphrase}
                onChange={(e) => setPassphrase(e.target.value)}
                {...(asked ? {} : wrong)}
                required
              />
            </label>
            <button
              type="button"
              className="absolute right-0 bottom-0 min-h-12 min-w-16 px-4 text-soft underline underline-offset-4"
              aria-pressed={seen}
              aria-label="Show the passphrase"
              onClick={() => setSeen(!seen)}
            >
              {seen ? "hide" : "show"}
            </button>
          </div>
          {asked && (
            <label className="block">
              <span className="cap">Code</span>
              <input
                className="field mt-1"
                ref={codeField}
                inputMode="text"
                autoComplete="one-time-code"
                maxLength={40}
                value={code}
                onChange={(e) => setCode(e.target.value)}
                {...(signIn.variables?.code ? wrong : { "aria-describedby": "signin-error" })}
                required
              />
            </label>
          )}
          {error && (
            <p
              id="signin-error"
              role="alert"
              className={`font-[560] ${asked && !signIn.variables?.code ? "text-copper" : "text-oxide"}`}
            >
              {error}
            </p>
          )}
          <button className="btn" disabled={signIn.isPending}>
            {signIn.isPending ? "Signing in …" : "Sign in"}
          </button>
        </form>
        {byPIN.length > 0 && (
          <section className="mt-6" aria-label="Come in by PIN">
            {pinOf ? (
              <Suspense>
                <ByPIN name={pinOf} onLeave={() => setPINOf(undefined)} />
              </Suspense>
            ) : (
              <>
                <p className="cap">Here today, by PIN</p>
                <div className="mt-2 flex flex-wrap gap-2">
                  {byPIN.map((p) => (
                    <button key={p.name} className="btn btn-line" onClick={() => setPINOf(p.name)}>
                      {p.name}
                    </button>
                  ))}
                </div>
              </>
            )}
          </section>
        )}
        {whoseWait().map(({ name, n }) => (
          <p key={name} className="mt-4 flex items-baseline gap-2.5 border-l-4 border-slate bg-card px-3.5 py-2">
            <Sign kind="wait" bare />
            <span>
              <b className="font-[680]">
                {n === 1 ? "1 reading" : `${n} readings`} of {name}
              </b>{" "}
              {n === 1 ? "waits" : "wait"} on this device. {name} has to sign in here once for {n === 1 ? "it" : "them"}{" "}
              to be sent.
            </span>
          </p>
        ))}
        {demo.length > 0 && (
          <section className="mt-8" aria-labelledby="demo-title">
            <h2 id="demo-title" className="cap">
              Demo workshop: come in as
            </h2>
            <div className="mt-2 grid grid-cols-3 gap-2">
              {demo.map((d) => (
                <button
                  key={d.name}
                  className="min-h-14 rounded-sm border-[1.5px] border-line bg-card px-3 py-2 text-left leading-tight hover:border-ink"
                  onClick={() => {
                    setName(d.name);
                    setPassphrase(d.passphrase); // a code may be asked for yet
                    signIn.mutate({ name: d.name, passphrase: d.passphrase });
                  }}
                >
                  <b className="block text-[17px] font-[700]">{d.name}</b>
                  <span className="text-[14px] text-soft">{d.role}</span>
                </button>
              ))}
            </div>
            <p className="mt-2 text-[14px] text-soft">
              Or type it: {demo[0]?.name}, “{demo[0]?.passphrase}”.
            </p>
          </section>
        )}
      </div>
    </main>
  );
}
