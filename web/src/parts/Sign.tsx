import type { ReactNode } from "react";
import type { Level } from "../lib/api";

export type SignKind = Level | "wait";

const shapes: Record<SignKind, ReactNode> = {
  ok: <circle cx="8" cy="8" r="6.5" fill="currentColor" />,
  act: <path d="M8 1 15 8 8 15 1 8Z" fill="none" stroke="currentColor" strokeWidth="2.4" />,
  stop: <rect x="1" y="4.5" width="14" height="7" fill="currentColor" />,
  note: <circle cx="8" cy="8" r="2.6" fill="currentColor" />,
  wait: (
    <>
      <circle cx="8" cy="8" r="6" fill="none" stroke="currentColor" strokeWidth="2" />
      <path d="M8 2a6 6 0 0 1 0 12Z" fill="currentColor" />
    </>
  ),
};

export const tone: Record<SignKind, string> = {
  ok: "text-verdigris",
  act: "text-copper",
  stop: "text-oxide",
  note: "text-ink",
  wait: "text-slate",
};

const words: Record<SignKind, string> = { ok: "Holds", act: "Act", stop: "Stop", note: "Note", wait: "Waiting" };

/** The mark of a finding or verdict: a shape, a colour and a word for who cannot see either. */
export function Sign({ kind, size = 16, bare = false }: { kind: SignKind; size?: number; bare?: boolean }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      className={`shrink-0 ${tone[kind]}`}
      role={bare ? undefined : "img"}
      aria-hidden={bare || undefined}
      aria-label={bare ? undefined : words[kind]}
    >
      {shapes[kind]}
    </svg>
  );
}
