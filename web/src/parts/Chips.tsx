import { ToggleGroup } from "radix-ui";

export type Chip = { code: string; word: string };

const chip =
  "min-h-12 min-w-12 justify-center px-3 rounded-sm border-[1.5px] border-line bg-card text-[15px] leading-tight font-[540] flex items-center text-left hover:border-soft data-[state=on]:bg-ink data-[state=on]:border-ink data-[state=on]:text-paper";

/** Large chips of which one is picked. */
export function PickOne(props: {
  label: string;
  chips: Chip[];
  value: string | undefined;
  onPick: (code: string) => void;
  /** Where the hands go first on a screen. */
  first?: boolean | undefined;
  /** One row on a phone, to push along. */
  row?: boolean | undefined;
}) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={props.label}
      value={props.value ?? ""}
      onValueChange={(code) => code && props.onPick(code)}
      className={
        props.row
          ? "flex gap-2 max-md:-mx-4 max-md:overflow-x-auto max-md:px-4 md:flex-wrap [&>*]:shrink-0"
          : "flex flex-wrap gap-2"
      }
    >
      {props.chips.map((c, i) => (
        <ToggleGroup.Item
          key={c.code}
          value={c.code}
          className={chip}
          data-first={(props.first && (props.value ? c.code === props.value : i === 0)) || undefined}
        >
          {c.word}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

/** Large chips of which any number are picked. */
export function PickAny(props: { label: string; chips: Chip[]; value: string[]; onPick: (codes: string[]) => void }) {
  return (
    <ToggleGroup.Root
      type="multiple"
      aria-label={props.label}
      value={props.value}
      onValueChange={props.onPick}
      className="flex flex-wrap gap-2"
    >
      {props.chips.map((c) => (
        <ToggleGroup.Item key={c.code} value={c.code} className={chip}>
          {c.word}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
