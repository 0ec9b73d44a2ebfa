import { Delete } from "lucide-react";
import { useId, type ReactNode } from "react";
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
  autoFocus?: boolean;
  /** What the figure means, shown between it and the keypad, where a thumb does not hide it. */
  children?: ReactNode;
  /** What ends the entry, straight under the keypad. */
  action?: ReactNode;
};

/** One figure, entered on the keyboard or, with gloves, on a keypad of its own. */
export function NumberEntry(props: Props) {
  const id = useId();
  const coarse = useCoarse();
  const keypad = coarse && props.big;
  const press = (key: string) => {
    if (key === "⌫") props.onChange(props.value.slice(0, -1));
    else if (key === "±") props.onChange(/^[-−]/.test(props.value) ? props.value.slice(1) : "−" + props.value);
    else if (key !== "." || !props.value.includes(".")) props.onChange(props.value + key);
  };
  return (
    <div>
      <label htmlFor={id} className="cap block">
        {props.label}
      </label>
      <div
        className={`flex items-baseline border-b-[3px] ${props.error ? "border-oxide" : props.big ? "border-copper" : "border-line"}`}
      >
        <input
          id={id}
          value={props.value}
          onChange={(e) => props.onChange(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter") {
              e.preventDefault();
              props.onEnter?.();
            }
          }}
          inputMode={keypad ? "none" : "decimal"}
          enterKeyHint="next"
          autoComplete="off"
          autoFocus={props.autoFocus}
          aria-invalid={props.error ? true : undefined}
          aria-describedby={props.error ? `${id}-error` : undefined}
          className={`w-full min-w-0 bg-transparent tracking-tight outline-none ${
            props.big ? "text-[64px] leading-[1.05] font-[760]" : "h-12 text-[26px] font-[700]"
          }`}
        />
        <span className={`shrink-0 pl-1 font-medium text-soft ${props.big ? "text-[30px]" : "text-[16px]"}`}>
          {props.unit}
        </span>
        {keypad && (
          <button
            type="button"
            className="ml-2 h-12 w-12 shrink-0 self-center rounded-sm border-[1.5px] border-line text-xl"
            onClick={() => press("±")}
            aria-label="Change the sign"
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
      {keypad && (
        <div className="mt-3 grid grid-cols-3 gap-2" role="group" aria-label={`Keypad for ${props.label}`}>
          {["1", "2", "3", "4", "5", "6", "7", "8", "9", ".", "0", "⌫"].map((key) => (
            <button
              key={key}
              type="button"
              onClick={() => press(key)}
              aria-label={key === "⌫" ? "Delete the last digit" : key === "." ? "Decimal point" : key}
              className="flex h-[52px] items-center justify-center rounded-sm border-[1.5px] border-line bg-card text-[25px] font-[650] active:bg-hush"
            >
              {key === "⌫" ? <Delete size={26} aria-hidden /> : key}
            </button>
          ))}
        </div>
      )}
      {props.action && <div className="mt-3 flex flex-wrap gap-3">{props.action}</div>}
    </div>
  );
}
