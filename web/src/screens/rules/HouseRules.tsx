import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { api, got, type HouseRulesBody, type Rule, type RuleChange, type Rules, type Term } from "../../lib/api";
import { useRules } from "../../lib/queries";
import { useFirst } from "../../lib/first";
import { useLeaving } from "../../lib/leaving";
import { onDay } from "../../lib/time";
import { PickOne } from "../../parts/Chips";
import { Heading } from "../../parts/Explain";
import { Failure, Loading } from "../../parts/Failure";
import { Sign } from "../../parts/Sign";

export function HouseRules() {
  const rules = useRules();
  if (rules.isPending) return <Loading what="the house rules" />;
  if (rules.isError) return <Failure error={rules.error} retry={() => void rules.refetch()} />;
  return <Choose {...rules.data} />;
}

type Field = Exclude<keyof Rules, "by_class">;
/** The chip for all vehicles. */
const ALL = "all";

type Value = string | number;

/** What is settled for one class; undefined where it is as for all. */
const own = (rules: Rules, cls: string, field: string) =>
  (rules.by_class as Record<string, Record<string, Value>> | undefined)?.[cls]?.[field];

/** The rules with one settled for a class, or for all; undefined lets the class be as all. */
function settled(rules: Rules, cls: string, field: string, value: Value | undefined): Rules {
  if (!cls) return { ...rules, [field]: value };
  const all = { ...(rules.by_class as Record<string, Record<string, Value>> | undefined) };
  const next = { ...all[cls] };
  if (value === undefined) delete next[field];
  else next[field] = value;
  if (Object.keys(next).length > 0) all[cls] = next;
  else delete all[cls];
  return { ...rules, by_class: all } as Rules;
}

function Choose({ rules, version, book, classes, changes, may_change }: HouseRulesBody) {
  const [chosen, setChosen] = useState(rules);
  const [cls, setCls] = useState("");
  const queries = useQueryClient();
  const save = useMutation({
    mutationFn: () => got(api.PUT("/api/rules", { body: { rules: chosen, version } })),
    onSuccess: (answer) => {
      queries.setQueryData(["rules"], answer);
      setChosen(answer.rules);
    },
    onError: () => void queries.invalidateQueries({ queryKey: ["rules"] }),
  });
  const changed = JSON.stringify(chosen) !== JSON.stringify(rules);
  const leaving = useLeaving(changed);
  const place = useRef<HTMLDivElement>(null);
  useFirst(place, "rules");
  return (
    <div ref={place} className="mx-auto max-w-[1000px] px-4 py-4 md:px-6">
      {leaving.asked && (
        <div
          role="alertdialog"
          aria-label="Changes that are not saved"
          className="fixed inset-x-4 bottom-[calc(var(--strip-h)+16px)] z-40 mx-auto max-w-[560px] rounded-sm border-[1.5px] border-copper bg-card p-4 shadow-xl"
        >
          <p className="flex items-baseline gap-2 font-[700] text-copper">
            <Sign kind="act" bare /> The house rules are changed and not saved.
          </p>
          <div className="mt-3 flex flex-wrap gap-2">
            <button
              className="btn"
              autoFocus
              onClick={() => save.mutate(undefined, { onSuccess: () => leaving.go(), onError: () => leaving.stay() })}
            >
              Save and go
            </button>
            <button className="btn btn-line" onClick={() => leaving.stay()}>
              Stay here
            </button>
            <button className="btn btn-quiet" onClick={() => leaving.go()}>
              Go without saving
            </button>
          </div>
        </div>
      )}
      <div className="flex flex-wrap items-center gap-x-3">
        <h1 className="tight mr-auto text-[34px] leading-none font-[780]">House rules</h1>
        <Link className="btn btn-quiet" to="/prices">
          Prices
        </Link>
        <Link className="btn btn-quiet" to="/in-and-out">
          In and out
        </Link>
      </div>
      <p className="mt-2 max-w-[70ch] text-soft">
        Good practitioners differ on these. The shop chooses its school; every verdict names the rule that decided and
        what the other school would have said. Jobs already open keep the rules they were opened under.
        {!may_change && " Only a lead may change them."}
      </p>
      <div className="mt-4">
        <p className="cap mb-1">For</p>
        <PickOne
          row
          label="Vehicles the rules are for"
          chips={[{ code: ALL, word: "All vehicles" }, ...classes]}
          value={cls || ALL}
          onPick={(code) => setCls(code === ALL ? "" : code)}
        />
        {cls && (
          <p className="mt-2 text-soft">
            What is chosen here holds for this class alone; the rest is as for all vehicles.
          </p>
        )}
      </div>
      <div className="mt-4 border-b border-line">
        {book.map((rule) => (
          <fieldset key={rule.id} className="grid gap-x-8 gap-y-2 border-t border-line py-4 md:grid-cols-[300px_1fr]">
            <legend className="sr-only">{rule.title}</legend>
            <div>
              <p className="text-[18px] font-[740]">{rule.title}</p>
              <p className="text-soft">{rule.question}</p>
              <Heading text="" within={[rule.title, rule.question, ...rule.schools.map((s) => s.name)].join(" ")} />
              {cls ? (
                <Own
                  own={own(chosen, cls, rule.field) !== undefined}
                  onAsAll={may_change ? () => setChosen(settled(chosen, cls, rule.field, undefined)) : undefined}
                />
              ) : (
                <Exceptions rule={rule} rules={chosen} classes={classes} onOpen={setCls} />
              )}
            </div>
            <div className="grid content-start gap-2 sm:grid-cols-2" role="radiogroup" aria-label={rule.title}>
              {rule.schools.map((school) => {
                const value = school.number ?? school.word!;
                const on = (own(chosen, cls, rule.field) ?? chosen[rule.field as Field]) === value;
                return (
                  <button
                    key={school.name}
                    role="radio"
                    disabled={!may_change}
                    aria-checked={on}
                    onClick={() => setChosen(settled(chosen, cls, rule.field, value))}
                    className={`flex flex-col items-stretch rounded-sm border-[1.5px] bg-card px-4 py-2.5 text-left disabled:cursor-default ${on ? "border-ink shadow-[inset_5px_0_var(--copper)]" : "border-line enabled:hover:border-soft"}`}
                  >
                    <span className="flex items-baseline gap-2">
                      {school.number !== undefined && (
                        <b className="text-[22px] leading-tight font-[760]">
                          {school.number}
                          <span className="ml-1 text-[14px] font-medium text-soft">{rule.unit}</span>
                        </b>
                      )}
                      <span className="font-[640]">{school.name}</span>
                      {on && (
                        <span className="ml-auto flex items-center gap-1.5 text-[13.5px] text-verdigris">
                          <Sign kind="ok" size={11} bare />{" "}
                          {cls && own(chosen, cls, rule.field) === undefined ? "as for all" : "ours"}
                        </span>
                      )}
                    </span>
                    <span className="mt-0.5 block text-[14px] leading-snug">{school.why}</span>
                    <span className="mt-0.5 block text-[13px] text-soft">{school.source}</span>
                  </button>
                );
              })}
            </div>
          </fieldset>
        ))}
      </div>
      {may_change && (
        <div className="sticky bottom-[var(--strip-h)] flex flex-wrap items-center gap-3 bg-paper py-3">
          <button className="btn" disabled={!changed || save.isPending} onClick={() => save.mutate()}>
            {save.isPending ? "Saving …" : "Save the house rules"}
          </button>
          {changed && (
            <button className="btn btn-line" onClick={() => setChosen(rules)}>
              Undo
            </button>
          )}
          {save.isSuccess && !changed && <span className="text-verdigris">Saved. New jobs follow them.</span>}
          {save.error && (
            <span role="alert" className="text-oxide">
              {save.error.message}
            </span>
          )}
        </div>
      )}
      <Changes changes={changes} classes={classes} />
    </div>
  );
}

/** Whether a class has a custom of its own, and the way back. */
function Own({ own, onAsAll }: { own: boolean; onAsAll: (() => void) | undefined }) {
  if (!own) return null;
  return (
    <p className="mt-1 flex flex-wrap items-center gap-x-3 text-[14px] font-[600] text-copper">
      Its own
      {onAsAll && (
        <button className="min-h-11 underline" onClick={onAsAll}>
          As for all vehicles
        </button>
      )}
    </p>
  );
}

/** The classes where a rule is settled otherwise, school by school. */
function Exceptions(props: { rule: Rule; rules: Rules; classes: Term[]; onOpen: (cls: string) => void }) {
  const { rule, rules } = props;
  const of = (c: Term) => own(rules, c.code, rule.field);
  const values = [...new Set(props.classes.map(of).filter((v) => v !== undefined))];
  return values.map((value) => {
    const school = rule.schools.find((s) => (s.number ?? s.word) === value);
    const said = typeof value === "number" ? `${value} ${rule.unit}` : school?.name;
    return (
      <div key={value} className="mt-1 flex flex-wrap items-center gap-x-2.5 text-[14px]">
        <span className="text-soft">{said} for</span>
        {props.classes
          .filter((c) => of(c) === value)
          .map((c) => (
            <button
              key={c.code}
              className="min-h-11 min-w-11 text-left font-[600] underline decoration-line underline-offset-4"
              onClick={() => props.onOpen(c.code)}
            >
              {c.word}
            </button>
          ))}
      </div>
    );
  });
}

/** Who changed what, and when. */
function Changes({ changes, classes }: { changes: RuleChange[]; classes: Term[] }) {
  if (changes.length === 0) return null;
  return (
    <section className="mt-6 mb-4">
      <h2 className="text-[20px] font-[740]">Changes</h2>
      <ol className="mt-1 border-b border-line">
        {changes.map((c) => (
          <li key={c.at} className="grid gap-x-8 gap-y-0.5 border-t border-line py-2 md:grid-cols-[300px_1fr]">
            <span className="text-soft">
              {onDay(c.at)}, {c.by}
            </span>
            <ul>
              {c.rules.map((r) => (
                <li key={r.rule + (r.class ?? "")}>
                  <b className="font-[640]">
                    {r.rule}
                    {r.class && `, ${classes.find((t) => t.code === r.class)?.word ?? r.class}`}
                  </b>
                  : {r.from} → {r.to}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
    </section>
  );
}
