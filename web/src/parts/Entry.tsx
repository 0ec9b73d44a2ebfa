import { useId, type InputHTMLAttributes } from "react";

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, "onChange" | "className"> & {
  name: string;
  value: string;
  onChange: (value: string) => void;
  error?: string | undefined;
  hint?: string | undefined;
};

/** A field of a form about accounts: its name above, what is wrong below. */
export function Entry({ name, value, onChange, error, hint, ...rest }: Props) {
  const id = useId();
  return (
    <label className="block">
      <span className="cap">{name}</span>
      <input
        className="field mt-1"
        value={value}
        onChange={(e) => onChange(e.target.value)}
        aria-invalid={error ? true : undefined}
        aria-describedby={error ? id : undefined}
        autoComplete="off"
        {...rest}
      />
      {error ? (
        <span id={id} role="alert" className="mt-1 block font-[560] text-oxide">
          {error}
        </span>
      ) : (
        hint && <span className="mt-1 block text-[14px] text-soft">{hint}</span>
      )}
    </label>
  );
}
