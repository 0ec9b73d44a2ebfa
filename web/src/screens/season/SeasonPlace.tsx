import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, got, table, type SeasonBody } from "../../lib/api";
import { say } from "../../lib/notices";
import { usePerson, useSeason } from "../../lib/queries";
import { fromScale, readNumber, toScale, unitOf, type Scale } from "../../lib/units";
import { Failure, Loading } from "../../parts/Failure";
import { Feed } from "../../parts/Feed";
import { PickFile } from "../../parts/PickFile";
import { onDate } from "./scale";

const months = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

/** A temperature as it was typed, to a tenth: saving again must not round it. */
const asTyped = (celsius: number, scale: Scale) =>
  String(Math.round(toScale(celsius, scale) * 10) / 10).replace("-", "−");

/** How warm the months of the place are, how cold its nights, and what is forecast. */
export function SeasonPlace() {
  const season = useSeason();
  if (season.isPending) return <Loading what="the place" />;
  if (!season.data) return <Failure error={season.error} retry={() => void season.refetch()} />;
  return (
    <div className="mx-auto max-w-[1100px] px-4 py-4 md:px-6">
      <p className="cap">Season</p>
      <h1 tabIndex={-1} className="tight text-[30px] leading-[1.1] font-[780] outline-none">
        The place, and what is forecast
      </h1>
      <Forecast season={season.data} />
      <Months key={season.data.place.climate.monthly_low_c.join()} season={season.data} />
      <Feed of="season" />
    </div>
  );
}

/** Shows what a change of the place answered with. */
function useShown() {
  const queries = useQueryClient();
  return (body: SeasonBody) => {
    queries.setQueryData(["season"], body);
    void queries.invalidateQueries({ queryKey: ["season"], predicate: (q) => q.queryKey.length > 1 });
    void queries.invalidateQueries({ queryKey: ["register"] });
    void queries.invalidateQueries({ queryKey: ["clock"] });
  };
}

const AHEAD = 7;

/** The nights to come: typed, or taken from a table. */
function Forecast({ season }: { season: SeasonBody }) {
  const scale = usePerson().temperature;
  const show = useShown();
  const dates = Array.from({ length: AHEAD }, (_, i) =>
    new Date(Date.parse(season.today) + (i + 1) * 86_400_000).toISOString().slice(0, 10),
  );
  const known = (date: string) => season.place.days.find((d) => d.date === date);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const at = (date: string) => typed[date] ?? (known(date) ? asTyped(known(date)!.low_c, scale) : "");
  const changed = dates.filter((d) => typed[d] !== undefined && typed[d].trim() !== "");
  const wrong = changed.filter((d) => readNumber(typed[d]!) === undefined);
  const saved = (body: SeasonBody) => {
    show(body);
    setTyped({});
    const cold = body.stored.filter((l) => l.now.frost);
    say(
      cold.length > 0
        ? { text: `Frost: ${cold.map((l) => l.tag).join(", ")} come too near.`, kind: "stop" }
        : { text: "Nothing that stands comes near its line.", kind: "ok" },
    );
  };
  const save = useMutation({
    mutationFn: () =>
      got(
        api.PUT("/api/season/weather", {
          body: { days: changed.map((date) => ({ date, low_c: fromScale(readNumber(typed[date]!)!, scale) })) },
        }),
      ),
    onSuccess: saved,
  });
  const take = useMutation({
    mutationFn: async (file: File) => got(api.POST("/api/season/weather/csv", await table(file))),
    onSuccess: saved,
  });
  const error = save.error ?? take.error;
  return (
    <section aria-label="Forecast" className="mt-4 border-[1.5px] border-ink bg-card px-4 py-4">
      <h2 className="text-[18px] font-[700]">The coldest of each night to come, {unitOf("°C", scale)}</h2>
      <p className="text-soft">As the forecast has it. What stands is held against it at once.</p>
      <div className="mt-3 grid grid-cols-4 gap-2 md:grid-cols-7">
        {dates.map((d) => (
          <label key={d} className="block">
            <span className="cap block">{onDate(d)}</span>
            <input
              className="field px-1! text-center text-[20px] font-[680]"
              inputMode="text"
              aria-label={`Night of ${onDate(d)}`}
              aria-invalid={wrong.includes(d) || undefined}
              value={at(d)}
              onChange={(e) => setTyped({ ...typed, [d]: e.target.value })}
            />
          </label>
        ))}
      </div>
      <div className="mt-3 flex flex-wrap gap-3">
        <button
          className="btn btn-act"
          disabled={changed.length === 0 || wrong.length > 0 || save.isPending}
          onClick={() => save.mutate()}
        >
          {save.isPending ? "Saving …" : "Save the forecast"}
        </button>
        <PickFile
          word="From a table"
          label="A table of date, low_c and mean_c"
          accept=".csv,text/csv"
          busy={take.isPending}
          onFile={(f) => take.mutate(f)}
        />
      </div>
      {error && (
        <p role="alert" className="mt-3 whitespace-pre-line text-oxide">
          {error.message}
        </p>
      )}
    </section>
  );
}

/** The months as they usually are: typed once, taken from a table, or of a climate that ships. */
function Months({ season }: { season: SeasonBody }) {
  const scale = usePerson().temperature;
  const show = useShown();
  const { climate, presets, may_change, typed: known, means_typed } = season.place;
  const of = (c: { monthly_mean_c: number[]; monthly_low_c: number[] }) => ({
    mean: c.monthly_mean_c.map((v) => asTyped(v, scale)),
    low: c.monthly_low_c.map((v) => asTyped(v, scale)),
  });
  const [t, setT] = useState(() => of(climate));
  const figures = { mean: t.mean.map(readNumber), low: t.low.map(readNumber) };
  const whole = [...figures.mean, ...figures.low].every((f) => f !== undefined);
  const saved = (body: SeasonBody) => {
    show(body);
    say({ text: "The place is kept.", kind: "ok" });
  };
  const save = useMutation({
    mutationFn: () =>
      got(
        api.PUT("/api/season/place", {
          body: {
            monthly_mean_c: figures.mean.map((f) => fromScale(f!, scale)),
            monthly_low_c: figures.low.map((f) => fromScale(f!, scale)),
          },
        }),
      ),
    onSuccess: saved,
  });
  const take = useMutation({
    mutationFn: async (file: File) => got(api.POST("/api/season/place/csv", await table(file))),
    onSuccess: saved,
  });
  const error = save.error ?? take.error;
  const row = (name: "mean" | "low", word: string) => (
    <div className="mt-2 grid grid-cols-4 gap-2 md:grid-cols-[110px_repeat(12,minmax(0,1fr))] md:items-end">
      <span className="self-center font-[640] max-md:col-span-4">{word}</span>
      {months.map((m, i) => (
        <label key={m} className="block">
          <span className="cap block">{m}</span>
          <input
            className="field px-1! text-center font-[650]"
            inputMode="text"
            aria-label={`${word}, ${m}`}
            disabled={!may_change}
            value={t[name][i]}
            aria-invalid={figures[name][i] === undefined || undefined}
            onChange={(e) => setT({ ...t, [name]: t[name].map((v, k) => (k === i ? e.target.value : v)) })}
          />
        </label>
      ))}
    </div>
  );
  return (
    <section aria-label="The months" className="mt-5">
      <h2 className="text-[18px] font-[700]">The months as they usually are, {unitOf("°C", scale)}</h2>
      <p className="text-soft">
        {known
          ? means_typed
            ? "Typed for this place."
            : "The nights were typed, the means are guessed from them."
          : "Nobody has typed them: a cold upland valley stands in."}{" "}
        {may_change ? "Begin with a place like yours, then put it right." : "A lead can change them."}
      </p>
      {may_change && (
        <div className="mt-2 flex flex-wrap gap-2">
          {presets.map((p) => (
            <button key={p.code} className="btn btn-line px-3!" onClick={() => setT(of(p))}>
              {p.name}
            </button>
          ))}
        </div>
      )}
      {row("mean", "Mean")}
      {row("low", "Coldest night")}
      {may_change && (
        <div className="mt-3 flex flex-wrap gap-3">
          <button className="btn" disabled={!whole || save.isPending} onClick={() => save.mutate()}>
            {save.isPending ? "Saving …" : "Save the months"}
          </button>
          <PickFile
            word="From a table"
            label="A table of month, mean_c and low_c"
            accept=".csv,text/csv"
            busy={take.isPending}
            onFile={(f) => take.mutate(f)}
          />
        </div>
      )}
      {error && (
        <p role="alert" className="mt-3 whitespace-pre-line text-oxide">
          {error.message}
        </p>
      )}
    </section>
  );
}
