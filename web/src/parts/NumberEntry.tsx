import { Delete } from "lucide-react";
import { useId, useRef, type ReactNode } from "react";
import { useCoarse } from "../lib/pointer";

type Props = {
  label: string;
  unit: string;
  value: string;
  onChange: (text: string) => void;
  onEnter?: () => void;
  error?: string | undefined;
  big?: boolean;
  hint?: string;
  /** Whether it can be below nought, so that the sign is worth a key. */
  signed?: boolean;
  /** What stands here is not of this entry yet: the first stroke replaces it. */
  fresh?: boolean;
  /** Where the hands go first on a screen. */
  first?: boolean;
  /** What the figure means, shown between it and the keypad, where a thumb does not hide it. */
  children?: ReactNode;
  /** A tap that says more of the figure, beside it. */
  quick?: ReactNode;
  /** What ends the entry, straight under the keypad. */
  action?: ReactNode;
};

/** What a figure becomes by one key of the keypad, or of a keyboard while the field is left. */
export function stroke(value: string, key: string, fresh = false): string {
  if (key === "±") return /^[-−]/.test(value) ? value.slice(1) : "−" + value;
  if (fresh) return key === "⌫" ? "" : key;
  if (key === "⌫") return value.slice(0, -1);
  return key === "." && value.includes(".") ? value : value + key;
}

const KEYS = ["1", "2", "3", "4", "5", "6", "7", "8", "9"];

/** One figure, entered on the keyboard or, with gloves, on a keypad of its own. */
export function NumberEntry(props: Props) {
  const id = useId();
  const field = useRef<HTMLInputElement>(null);
  const coarse = useCoarse();
  const keypad = coarse && props.big;
  const press = (key: string) => props.onChange(stroke(props.value, key, props.fresh));
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="cap block">
        {props.label}
      </label>
      <div
        className={`flex items-baseline border-b-[3px] outline-copper has-[input:focus-visible]:bg-card has-[input:focus-visible]:outline-3 ${props.error ? "border-oxide" : props.big ? "border-copper" : "border-line"}`}
      >
        <input
          ref={field}
          id={id}
          value={props.value}
          onChange={(e) => props.onChange(e.target.value)}
          onFocus={(e) => props.fresh && e.target.select()}
          onKeyDown={(e) => {
            if (e.key === "Enter" && props.onEnter && !e.ctrlKey && !e.metaKey) {
              e.preventDefault();
              props.onEnter();
            } else if (e.key === "Escape") e.currentTarget.blur();
          }}
          inputMode={keypad ? "none" : "decimal"}
          enterKeyHint="next"
          autoComplete="off"
          data-first={props.first || undefined}
          data-big={props.big || undefined}
          aria-invalid={props.error ? true : undefined}
          aria-describedby={props.error ? `${id}-error` : undefined}
          className={`w-full min-w-0 bg-transparent tracking-tight outline-none ${
            props.big ? "text-[64px] leading-[1.05] font-[760]" : "h-12 text-[26px] font-[700]"
          }`}
        />
        <span className={`shrink-0 pl-1 font-medium text-soft ${props.big ? "pr-1 text-[30px]" : "text-[16px]"}`}>
          {props.unit}
        </span>
        {props.quick}
        {props.signed && !props.big && (
          <button
            type="button"
            className="ml-1 flex h-11 w-11 shrink-0 items-center justify-center self-center rounded-sm border-[1.5px] border-line text-xl"
            onClick={() => {
              press("±");
              field.current?.focus();
            }}
            aria-label={`Change the sign of ${props.label}`}
          >
            ±
          </button>
        )}
      </div>
      {props.error ? (
        <p id={`${id}-error`} role="alert" className="mt-1.5 font-[560] text-oxide">
          {props.error}
        </p>
      ) : (
        props.hint && <p className="mt-1.5 text-[13.5px] text-soft">{props.hint}</p>
      )}
      {props.children}
      {keypad && <Keypad label={props.label} onPress={press} />}
      {props.action && <div className="mt-2.5 flex flex-wrap gap-3">{props.action}</div>}
    </div>
  );
}

/** Keys large enough for gloves. */
export function Keypad({ label, onPress }: { label: string; onPress: (key: string) => void }) {
  return (
    <div className="mt-1.5 grid grid-cols-12 gap-1.5 md:mt-3 md:gap-2" role="group" aria-label={`Keypad for ${label}`}>
      {KEYS.map((key) => (
        <Key key={key} name={key} wide onPress={() => onPress(key)}>
          {key}
        </Key>
      ))}
      <Key name="Change the sign" onPress={() => onPress("±")}>
        ±
      </Key>
      <Key name="0" onPress={() => onPress("0")}>
        0
      </Key>
      <Key name="Decimal point" onPress={() => onPress(".")}>
        .
      </Key>
      <Key name="Delete the last digit" onPress={() => onPress("⌫")}>
        <Delete size={26} aria-hidden />
      </Key>
    </div>
  );
}

function Key(props: { name: string; wide?: boolean; onPress: () => void; children: ReactNode }) {
  return (
    <button
      type="button"
      onClick={props.onPress}
      aria-label={props.name}
      className={`${props.wide ? "col-span-4" : "col-span-3"} flex h-[46px] items-center justify-center rounded-sm border-[1.5px] border-line bg-card text-[25px] md:h-[50px] font-[650] active:bg-hush`}
    >
      {props.children}
    </button>
  );
}
