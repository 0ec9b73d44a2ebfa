/** A box to tick, large enough for a glove. */
export function Tick({ on, onChange, word }: { on: boolean; onChange: (on: boolean) => void; word: string }) {
  return (
    <label className="flex min-h-12 cursor-pointer items-center gap-2.5">
      <input
        type="checkbox"
        className="h-6 w-6 shrink-0 accent-[var(--copper)]"
        checked={on}
        onChange={(e) => onChange(e.target.checked)}
      />
      {word}
    </label>
  );
}
