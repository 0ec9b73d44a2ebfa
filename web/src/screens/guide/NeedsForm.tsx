import { useState } from "react";
import type { Needs } from "../../lib/api";
import { PickOne } from "../../parts/Chips";
import { Entry } from "../../parts/Entry";
import { useStock } from "../shelf/useStock";

const figures = [
  { field: "cca", label: "Cranking amps", unit: "A" },
  { field: "ah_20h", label: "20 h capacity", unit: "Ah" },
  { field: "rc_min", label: "Reserve", unit: "min" },
  { field: "charging_volts", label: "Most it charges at", unit: "V" },
] as const;

/** What the maker of a vehicle asks of its battery, as far as somebody has read it. */
export function NeedsForm({
  needs,
  onSave,
  onCancel,
}: {
  needs: Needs;
  onSave: (n: Needs) => Promise<void>;
  onCancel: () => void;
}) {
  const stock = useStock();
  const [texts, setTexts] = useState<Record<string, string>>(() => ({
    ...Object.fromEntries(figures.map((f) => [f.field, needs[f.field] ? String(needs[f.field]) : ""])),
    group: needs.group ?? "",
    length: needs.tray_mm?.[0]?.toString() ?? "",
    width: needs.tray_mm?.[1]?.toString() ?? "",
    height: needs.tray_mm?.[2]?.toString() ?? "",
  }));
  const [words, setWords] = useState<Record<string, string>>(() => {
    const { standard, chemistry, positive, terminals, hold_down, vent } = needs;
    return Object.fromEntries(
      Object.entries({ standard, chemistry, positive, terminals, hold_down, vent }).filter((e): e is [string, string] =>
        Boolean(e[1]),
      ),
    );
  });
  const [tube, setTube] = useState(needs.vent_tube ?? false);
  const [error, setError] = useState("");
  const v = stock.data?.vocabularies ?? {};
  const text = (field: string, label: string, unit?: string) => (
    <div key={field} className="min-w-0 flex-1 basis-[104px]">
      <Entry
        name={unit ? `${label}, ${unit}` : label}
        inputMode={field === "group" ? "text" : "decimal"}
        value={texts[field] ?? ""}
        onChange={(value) => setTexts({ ...texts, [field]: value })}
      />
    </div>
  );
  const pick = (field: string, label: string, extra: { code: string; word: string }[] = []) => (
    <div key={field}>
      <p className="cap pb-1">{label}</p>
      <PickOne
        label={label}
        chips={[...(v[field] ?? []), ...extra]}
        value={words[field]}
        onPick={(code) => setWords({ ...words, [field]: code })}
      />
    </div>
  );
  const save = async () => {
    const number = (t: string | undefined) => (t?.trim() ? Number(t.trim().replace(",", ".")) : undefined);
    const tray = [texts.length, texts.width, texts.height].map(number);
    const body = {
      ...Object.fromEntries(
        figures.flatMap((f) => (texts[f.field]?.trim() ? [[f.field, number(texts[f.field])]] : [])),
      ),
      ...(texts.group?.trim() ? { group: texts.group.trim() } : {}),
      ...(tray.some((t) => t !== undefined) ? { tray_mm: tray.map((t) => t ?? 0) } : {}),
      ...words,
      ...(tube ? { vent_tube: true } : {}),
    };
    try {
      setError("");
      await onSave(body as Needs);
    } catch (e) {
      setError(e instanceof Error ? e.message : String(e));
    }
  };
  return (
    <div className="flex flex-col gap-4">
      <h2 className="tight text-[22px] font-[760]">What its maker asks</h2>
      <div className="flex flex-wrap gap-3">{figures.map((f) => text(f.field, f.label, f.unit))}</div>
      {pick("standard", "Amps by")}
      <div className="flex flex-wrap gap-3">
        {text("group", "Group or box")}
        {text("length", "Tray length", "mm")}
        {text("width", "Width", "mm")}
        {text("height", "Height", "mm")}
      </div>
      {pick("chemistry", "Build")}
      {pick("positive", "Seen from the front", [{ code: "either", word: "Either" }])}
      {pick("terminals", "Terminals")}
      {pick("hold_down", "Held by")}
      <label className="flex min-h-12 items-center gap-3 text-[16px]">
        <input
          type="checkbox"
          className="size-6 accent-copper"
          checked={tube}
          onChange={(e) => setTube(e.target.checked)}
        />
        It stands where people sit: gas goes out by a tube
      </label>
      {error && (
        <p role="alert" className="text-oxide">
          {error}
        </p>
      )}
      <div className="flex flex-wrap gap-3">
        <button data-saves className="btn btn-act" onClick={() => void save()}>
          Keep it with this vehicle
        </button>
        <button className="btn btn-line" onClick={onCancel}>
          Back
        </button>
      </div>
    </div>
  );
}
