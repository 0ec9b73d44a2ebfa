import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { v7 as uuid } from "uuid";
import { api, got, Refused, type PersonLine } from "../../lib/api";
import { useFirst } from "../../lib/first";
import { say } from "../../lib/notices";
import { usePerson } from "../../lib/queries";
import { onDay, when } from "../../lib/time";
import { Entry } from "../../parts/Entry";
import { PickOne } from "../../parts/Chips";
import { Failure, Loading } from "../../parts/Failure";

const roles = [
  { code: "technician", word: "Technician" },
  { code: "lead", word: "Lead" },
];

/** Who works here and how far each may go; a lead's place. */
export function People() {
  const me = usePerson();
  const people = useQuery({ queryKey: ["people"], queryFn: () => got(api.GET("/api/people")) });
  const [adding, setAdding] = useState(false);
  const [renewing, setRenewing] = useState<PersonLine>();
  const place = useRef<HTMLDivElement>(null);
  useFirst(place, `people ${people.isSuccess}`);
  if (people.isPending) return <Loading what="the people" />;
  if (people.isError) return <Failure error={people.error} retry={() => void people.refetch()} />;
  return (
    <div ref={place} className="mx-auto max-w-[1000px] px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <div>
          <h1 className="tight text-[34px] leading-none font-[780]">People</h1>
          <p className="mt-2 max-w-[60ch] text-soft">
            A technician works; a lead also sets the house rules, lifts a stop, corrects closed jobs and looks after
            accounts. Nobody is ever deleted: what they did keeps their name.
          </p>
        </div>
        <div className="flex gap-2 md:ml-auto">
          <Link to="/history" className="btn btn-line">
            History
          </Link>
          <button className="btn" onClick={() => setAdding(true)} disabled={adding || me.by_pin}>
            Add somebody
          </button>
        </div>
      </div>
      {me.by_pin && (
        <p className="mt-4 border-l-4 border-copper bg-card px-3.5 py-2">
          You came in by PIN. Sign in with your passphrase to change accounts.
        </p>
      )}
      {adding && <Add onDone={() => setAdding(false)} />}
      <ul className="mt-4 border-b border-line">
        {people.data.people.map((p) => (
          <li key={p.id} className="border-t border-line">
            <div className="flex min-h-15 flex-wrap items-center gap-x-4 py-1.5">
              <span className="min-w-0 flex-1">
                <b className={`text-[17px] font-[700] ${p.closed_at ? "text-soft line-through" : ""}`}>{p.name}</b>
                <span className="ml-2 text-soft">
                  {p.role}
                  {p.you && ", you"}
                </span>
                <span className="block text-[14px] text-soft">{told(p)}</span>
              </span>
              {!me.by_pin && !p.you && <Do person={p} onPassphrase={() => setRenewing(p)} />}
            </div>
            {renewing?.id === p.id && <Renew person={p} onDone={() => setRenewing(undefined)} />}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** What is to be known of somebody's account, in a line. */
function told(p: PersonLine): string {
  if (p.closed_at) return `Account closed since ${onDay(p.closed_at)}`;
  return [
    p.seen_at ? `seen about ${when(p.seen_at)}` : "not signed in",
    p.sessions > 1 && `${p.sessions} sessions`,
    p.temporary_until && `has a temporary passphrase, good until ${when(p.temporary_until)}`,
    p.second_factor ? "second factor on" : p.role === "lead" && "without a second factor",
  ]
    .filter(Boolean)
    .join(" · ");
}

/** Keeps the list as an answer has it, and says what was done. */
function useDone(done?: () => void) {
  const queries = useQueryClient();
  return (body: unknown, text: string) => {
    queries.setQueryData(["people"], body);
    say({ text, kind: "ok" });
    done?.();
  };
}

const item = "flex min-h-12 cursor-pointer items-center px-4 outline-none data-[highlighted]:bg-hush";

function Do({ person: p, onPassphrase }: { person: PersonLine; onPassphrase: () => void }) {
  const done = useDone();
  const run = useMutation({
    mutationFn: ({ call }: { call: () => ReturnType<typeof change>; text: string }) => call(),
    onSuccess: (body, { text }) => done(body, text),
    onError: (error) => say({ text: error.message, kind: "act" }),
  });
  const path = { params: { path: { id: p.id } } };
  const change = (body: { role?: "technician" | "lead"; closed?: boolean }) =>
    got(api.PUT("/api/people/{id}", { ...path, body }));
  const other = p.role === "lead" ? ("technician" as const) : ("lead" as const);
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className="btn btn-line" aria-label={`Change the account of ${p.name}`}>
        Change
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="end"
        sideOffset={4}
        className="z-40 w-64 rounded-sm border-[1.5px] border-ink bg-card py-1 shadow-xl"
      >
        {!p.closed_at && (
          <>
            <DropdownMenu.Item
              className={item}
              onSelect={() => run.mutate({ call: () => change({ role: other }), text: `${p.name} is now a ${other}.` })}
            >
              Make {other}
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={onPassphrase}>
              Temporary passphrase
            </DropdownMenu.Item>
            {p.sessions > 0 && (
              <DropdownMenu.Item
                className={item}
                onSelect={() =>
                  run.mutate({
                    call: () => got(api.DELETE("/api/people/{id}/sessions", path)),
                    text: `${p.name} is signed out everywhere.`,
                  })
                }
              >
                End {p.sessions === 1 ? "the session" : `${p.sessions} sessions`}
              </DropdownMenu.Item>
            )}
            {p.second_factor && (
              <DropdownMenu.Item
                className={item}
                onSelect={() =>
                  run.mutate({
                    call: () => got(api.DELETE("/api/people/{id}/second-factor", path)),
                    text: `The second factor of ${p.name} is off.`,
                  })
                }
              >
                Turn the second factor off
              </DropdownMenu.Item>
            )}
          </>
        )}
        <DropdownMenu.Item
          className={item}
          onSelect={() =>
            run.mutate({
              call: () => change({ closed: !p.closed_at }),
              text: p.closed_at ? `${p.name} may come in again.` : `The account of ${p.name} is closed.`,
            })
          }
        >
          {p.closed_at ? "Open the account again" : "Close the account"}
        </DropdownMenu.Item>
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}

function Add({ onDone }: { onDone: () => void }) {
  const [id, setID] = useState(() => uuid());
  const [name, setName] = useState("");
  const [role, setRole] = useState("technician");
  const [passphrase, setPassphrase] = useState("");
  const done = useDone(onDone);
  const add = useMutation({
    mutationFn: () =>
      got(api.POST("/api/people", { body: { id, name, role: role as "technician" | "lead", passphrase } })),
    onSuccess: (body) => done(body, `${name} can come in now, and chooses a passphrase at the first sign-in.`),
    // What is mended now is another entry, unless nobody knows whether it arrived.
    onError: (error) => {
      if (error instanceof Refused && !error.lost && error.status < 500) setID(uuid());
    },
  });
  const refused = add.error instanceof Refused ? add.error : undefined;
  return (
    <form
      aria-label="Add somebody"
      className="mt-4 grid gap-4 border-[1.5px] border-ink bg-card p-4 md:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (!add.isPending) add.mutate();
      }}
    >
      <Entry
        name="Name, to sign in by"
        value={name}
        onChange={setName}
        error={refused?.at("name")}
        maxLength={80}
        autoFocus
        required
      />
      <Entry
        name="Temporary passphrase"
        value={passphrase}
        onChange={setPassphrase}
        error={refused?.at("passphrase")}
        hint="Tell it by mouth. Another has to be chosen at the first sign-in."
        required
      />
      <PickOne row label="Role" chips={roles} value={role} onPick={setRole} />
      <div className="flex flex-wrap items-center gap-2 md:justify-self-end">
        <button className="btn btn-act" disabled={!name.trim() || !passphrase || add.isPending}>
          {add.isPending ? "Adding …" : "Add"}
        </button>
        <button type="button" className="btn btn-line" onClick={onDone}>
          Cancel
        </button>
      </div>
      {refused && !refused.at("name") && !refused.at("passphrase") && (
        <p role="alert" className="font-[560] text-oxide md:col-span-2">
          {refused.message}
        </p>
      )}
    </form>
  );
}

function Renew({ person: p, onDone }: { person: PersonLine; onDone: () => void }) {
  const [passphrase, setPassphrase] = useState("");
  const done = useDone(onDone);
  const set = useMutation({
    mutationFn: () =>
      got(api.PUT("/api/people/{id}/passphrase", { params: { path: { id: p.id } }, body: { passphrase } })),
    onSuccess: (body) => done(body, `${p.name} is signed out everywhere, and comes in with the temporary passphrase.`),
  });
  const refused = set.error instanceof Refused ? set.error : undefined;
  return (
    <form
      aria-label={`Temporary passphrase for ${p.name}`}
      className="mb-3 flex flex-wrap items-end gap-3 border-l-4 border-copper bg-card p-3"
      onSubmit={(e) => {
        e.preventDefault();
        set.mutate();
      }}
    >
      <div className="min-w-[260px] flex-1">
        <Entry
          name={`Temporary passphrase for ${p.name}`}
          value={passphrase}
          onChange={setPassphrase}
          error={refused && (refused.at("passphrase") ?? refused.message)}
          autoFocus
        />
      </div>
      <button className="btn" disabled={!passphrase || set.isPending}>
        Set it
      </button>
      <button type="button" className="btn btn-line" onClick={onDone}>
        Cancel
      </button>
    </form>
  );
}
