import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, got, type Rule, type Rules } from "../../lib/api";
import { useRules } from "../../lib/queries";
import { useFirst } from "../../lib/first";
import { useLeaving } from "../../lib/leaving";
import { Heading } from "../../parts/Explain";
import { Failure, Loading } from "../../parts/Failure";
import { Sign } from "../../parts/Sign";

export function HouseRules() {
  const rules = useRules();
  if (rules.isPending) return <Loading what="the house rules" />;
  if (rules.isError) return <Failure error={rules.error} retry={() => void rules.refetch()} />;
  return <Choose {...rules.data} />;
}

type Field = keyof Rules;

function Choose({
  rules,
  version,
  book,
  may_change,
}: {
  rules: Rules;
  version: number;
  book: Rule[];
  may_change: boolean;
}) {
  const [chosen, setChosen] = useState(rules);
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
      <h1 className="tight text-[34px] leading-none font-[780]">House rules</h1>
      <p className="mt-2 max-w-[70ch] text-soft">
        Good practitioners differ on these. The shop chooses its school; every verdict names the rule that decided and
        what the other school would have said. Jobs already open keep the rules they were opened under.
        {!may_change && " Only a lead may change them."}
      </p>
      <div className="mt-4 border-b border-line">
        {book.map((rule) => (
          <fieldset key={rule.id} className="grid gap-x-8 gap-y-2 border-t border-line py-4 md:grid-cols-[300px_1fr]">
            <legend className="sr-only">{rule.title}</legend>
            <div>
              <p className="text-[18px] font-[740]">{rule.title}</p>
              <p className="text-soft">{rule.question}</p>
              <Heading text="" within={[rule.title, rule.question, ...rule.schools.map((s) => s.name)].join(" ")} />
            </div>
            <div className="grid gap-2 sm:grid-cols-2" role="radiogroup" aria-label={rule.title}>
              {rule.schools.map((school) => {
                const value = school.number ?? school.word!;
                const on = chosen[rule.field as Field] === value;
                return (
                  <button
                    key={school.name}
                    role="radio"
                    disabled={!may_change}
                    aria-checked={on}
                    onClick={() => setChosen({ ...chosen, [rule.field]: value })}
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
                          <Sign kind="ok" size={11} bare /> ours
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
    </div>
  );
}
