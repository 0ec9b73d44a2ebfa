import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, got } from "../../lib/api";
import { usePerson } from "../../lib/queries";
import { fromScale, readNumber, toScale, unitOf, type Scale } from "../../lib/units";

const months = Array.from({ length: 12 }, (_, i) => new Date(2000, i).toLocaleString("en", { month: "long" }));

/** A temperature as it was typed, to a tenth: saving again must not round it. */
const asTyped = (celsius: number, scale: Scale) =>
  String(Math.round(toScale(celsius, scale) * 10) / 10).replace("-", "−");

/** The coldest usual night of each month, typed once. */
export function LowsForm({ lows, onDone }: { lows: number[] | undefined; onDone: () => void }) {
  const scale = usePerson().temperature;
  const [typed, setTyped] = useState(() => months.map((_, i) => (lows ? asTyped(lows[i]!, scale) : "")));
  const queries = useQueryClient();
  const figures = typed.map(readNumber);
  const whole = figures.every((f) => f !== undefined);
  const save = useMutation({
    mutationFn: () => got(api.PUT("/api/climate", { body: { lows: figures.map((f) => fromScale(f!, scale)) } })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["register"] });
      void queries.invalidateQueries({ queryKey: ["life"] });
      onDone();
    },
  });
  return (
    <form
      aria-label="The coldest nights"
      className="mt-3 border-[1.5px] border-ink bg-card px-4 py-4"
      onSubmit={(e) => {
        e.preventDefault();
        if (whole) save.mutate();
      }}
    >
      <p className="text-[17px] font-[680]">The coldest usual night of each month, {unitOf("°C", scale)}</p>
      <p className="text-[14px] text-soft">Typed once: what a thermometer in the yard shows before dawn.</p>
      <div className="mt-3 grid grid-cols-3 gap-x-3 gap-y-3 md:grid-cols-6 lg:grid-cols-12">
        {months.map((m, i) => (
          <label key={m} className="block">
            <span className="cap block">{m.slice(0, 3)}</span>
            <input
              className="field w-full text-center text-[20px] font-[680]"
              aria-label={`Coldest night of ${m}`}
              inputMode="text"
              value={typed[i]}
              onChange={(e) => setTyped(typed.map((t, k) => (k === i ? e.target.value : t)))}
              aria-invalid={typed[i] !== "" && figures[i] === undefined}
            />
          </label>
        ))}
      </div>
      {save.error && (
        <p role="alert" className="mt-3 border-l-4 border-oxide px-3 py-1 text-oxide">
          {save.error.message}
        </p>
      )}
      <div className="mt-4 flex gap-3">
        <button className="btn btn-act" disabled={!whole || save.isPending}>
          {save.isPending ? "Saving …" : "Save the coldest nights"}
        </button>
        {lows && (
          <button type="button" className="btn btn-line" onClick={onDone}>
            Cancel
          </button>
        )}
      </div>
    </form>
  );
}
