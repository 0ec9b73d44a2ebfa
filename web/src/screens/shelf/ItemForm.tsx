import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, got, Refused, type Stock, type StockLine } from "../../lib/api";
import { say } from "../../lib/notices";
import { PickOne } from "../../parts/Chips";
import { Entry } from "../../parts/Entry";

const figures = [
  ["cca", "Cranking amps", "A"],
  ["ah_20h", "20 h capacity", "Ah"],
  ["rc_min", "Reserve", "min"],
] as const;

/** A battery of the shelf, as its label has it. */
export function ItemForm({
  stock,
  was,
  onDone,
}: {
  stock: Stock;
  was: StockLine | undefined;
  onDone: (s?: Stock) => void;
}) {
  const i = was?.item;
  const [t, setT] = useState<Record<string, string>>(() => ({
    tag: i?.tag ?? stock.next_tag,
    cca: i?.rating.cca?.toString() ?? "",
    ah_20h: i?.rating.ah_20h?.toString() ?? "",
    rc_min: i?.rating.rc_min?.toString() ?? "",
    group: i?.group ?? "",
    length: i?.size_mm?.[0]?.toString() ?? "",
    width: i?.size_mm?.[1]?.toString() ?? "",
    height: i?.size_mm?.[2]?.toString() ?? "",
    made: i?.made ?? "",
    rest_volts: "",
  }));
  const [w, setW] = useState<Record<string, string>>(() => ({
    chemistry: i?.chemistry ?? "",
    standard: i?.rating.standard ?? "",
    positive: i?.positive ?? "",
    terminals: i?.terminals ?? "",
    hold_down: i?.hold_down ?? "",
    vent: i?.vent ?? "",
  }));
  const document = () => {
    // What is no number goes as it is: the server names the field.
    const number = (text: string | undefined) => {
      const n = Number((text ?? "").trim().replace(",", "."));
      return Number.isNaN(n) ? text : n;
    };
    const rating = Object.fromEntries(figures.flatMap(([f]) => (t[f]?.trim() ? [[f, number(t[f])]] : [])));
    const size = [t.length, t.width, t.height];
    // What the form does not show stays as it was.
    const { rating: rated, ...rest } = i ?? { rating: {} };
    const kept: Record<string, unknown> = { ...rest };
    const keptRating: Record<string, unknown> = { ...rated };
    for (const [f] of figures) delete keptRating[f];
    delete keptRating.standard;
    for (const f of ["group", "size_mm", "made", "positive", "terminals", "hold_down", "vent"]) delete kept[f];
    return {
      ...kept,
      tag: t.tag,
      chemistry: w.chemistry,
      rating: { ...keptRating, ...rating, ...(w.standard ? { standard: w.standard } : {}) },
      ...(t.group?.trim() ? { group: t.group } : {}),
      ...(size.some((s) => s?.trim()) ? { size_mm: size.map(number) } : {}),
      ...(t.made?.trim() ? { made: t.made.trim() } : {}),
      ...Object.fromEntries(["positive", "terminals", "hold_down", "vent"].flatMap((f) => (w[f] ? [[f, w[f]]] : []))),
      // The day is the workshop's own to say.
      ...(t.rest_volts?.trim() ? { tested: { rest_volts: number(t.rest_volts) } } : {}),
    };
  };
  const save = useMutation({
    mutationFn: (gone: boolean) =>
      was
        ? got(
            api.PUT("/api/stock/{tag}", {
              params: { path: { tag: was.item.tag }, query: { version: was.version, gone } },
              body: document() as never,
            }),
          )
        : got(api.POST("/api/stock", { body: document() as never })),
    onSuccess: (s, gone) => {
      say({ text: gone ? `${t.tag} is off the shelf.` : `${t.tag} stands on the shelf.`, kind: "ok" });
      onDone(s);
    },
  });
  const wrong = save.error instanceof Refused ? save.error : undefined;
  const text = (field: string, label: string, hint = "") => (
    <div key={field} className="min-w-0 flex-1 basis-[120px]">
      <Entry
        name={label}
        value={t[field] ?? ""}
        placeholder={hint}
        inputMode={["tag", "group", "made"].includes(field) ? "text" : "decimal"}
        disabled={field === "tag" && was !== undefined}
        error={wrong?.at(field)}
        onChange={(value) => setT({ ...t, [field]: value })}
      />
    </div>
  );
  const pick = (field: string, label: string) => (
    <div>
      <p className="cap pb-1">{label}</p>
      <PickOne
        label={label}
        chips={stock.vocabularies[field] ?? []}
        value={w[field]}
        onPick={(code) => setW({ ...w, [field]: code })}
      />
    </div>
  );
  return (
    <form
      className="flex flex-col gap-4 border-b-[1.5px] border-ink py-5"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate(false);
      }}
    >
      <h2 className="tight text-[22px] font-[760]">
        {was ? `${was.item.tag}, as its label has it` : "As its label has it"}
      </h2>
      <div className="flex flex-wrap gap-3">
        {text("tag", "Tag")}
        {figures.map(([f, label, unit]) => text(f, `${label}, ${unit}`))}
        {text("made", "Made", "2026-08")}
        {text("rest_volts", "Volts, rested today", "12.70")}
      </div>
      {pick("standard", "Amps by")}
      {pick("chemistry", "Build")}
      <div className="flex flex-wrap gap-3">
        {text("group", "Group or box", "L2")}
        {text("length", "Length, mm")}
        {text("width", "Width, mm")}
        {text("height", "Height, mm")}
      </div>
      <div className="flex flex-wrap gap-x-8 gap-y-4">
        {pick("positive", "Seen from the front")}
        {pick("terminals", "Terminals")}
        {pick("hold_down", "Held by")}
        {pick("vent", "Vent")}
      </div>
      {save.error && (
        <p role="alert" className="text-oxide">
          {save.error.message}
        </p>
      )}
      <div className="flex flex-wrap gap-3">
        <button data-saves type="submit" className="btn btn-act" disabled={save.isPending || !w.chemistry}>
          {was ? "Keep it" : "On the shelf"}
        </button>
        <button type="button" className="btn btn-line" onClick={() => onDone()}>
          Leave it
        </button>
        {was && (
          <button type="button" className="btn btn-quiet" onClick={() => save.mutate(true)}>
            Sold or scrapped: off the shelf
          </button>
        )}
      </div>
    </form>
  );
}
