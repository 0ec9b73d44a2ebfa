import { Upload } from "lucide-react";
import { useRef } from "react";

/** A button that asks for a file, and gives it away; the same file may be chosen again. */
export function PickFile({
  word,
  label,
  accept,
  busy,
  onFile,
}: {
  word: string;
  /** What file is meant, for a screen reader. */
  label: string;
  accept: string;
  busy: boolean;
  onFile: (file: File) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept}
        className="sr-only"
        tabIndex={-1}
        aria-label={label}
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = "";
          if (chosen) onFile(chosen);
        }}
      />
      <button className="btn btn-line" onClick={() => input.current?.click()} disabled={busy}>
        <Upload size={18} aria-hidden /> {busy ? "Reading …" : word}
      </button>
    </>
  );
}
