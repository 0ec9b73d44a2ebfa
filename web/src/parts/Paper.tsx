import { FileText } from "lucide-react";
import type { ReactNode } from "react";

/** Opens something to print, in a tab of its own. */
export function PaperLink({
  to,
  children,
  act,
  quiet,
}: {
  to: string;
  children: ReactNode;
  act?: boolean;
  quiet?: boolean;
}) {
  return (
    <a
      className={`btn ${act ? "btn-act" : quiet ? "btn-quiet justify-start! md:w-full" : "btn-line"}`}
      href={to}
      target="_blank"
      rel="noopener"
    >
      <FileText size={18} aria-hidden /> {children}
    </a>
  );
}
