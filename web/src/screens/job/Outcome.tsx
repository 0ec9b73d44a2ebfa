import type { Sheet } from "../../lib/api";
import { when } from "../../lib/time";
import { Sign, tone } from "../../parts/Sign";

type Outcome = NonNullable<Sheet["outcome"]>;
type Opinion = Outcome["now"];

/** The verdict before the work beside the one that stands now. */
export function BeforeAndNow({ outcome, sheet }: { outcome: Outcome; sheet: Sheet }) {
  const { before } = outcome;
  return (
    <div className={`grid gap-x-6 gap-y-3 ${before ? "md:grid-cols-2" : ""}`} data-testid="outcome">
      {before && <Side name="Before the work" opinion={before} />}
      <Side
        name="Now"
        opinion={{ ...outcome.now, headline: sheet.headline, because: sheet.because, level: sheet.level }}
        large
      />
    </div>
  );
}

function Side({ name, opinion, large }: { name: string; opinion: Opinion; large?: boolean }) {
  return (
    <div className={large ? "" : "md:border-r md:border-line md:pr-6"}>
      <p className="cap">
        {name}
        {opinion.tag && `, ${opinion.tag}`}
        {opinion.at && ` · ${when(opinion.at)}`}
      </p>
      <p
        className={`flex items-baseline gap-2.5 leading-[1.12] font-[760] ${large ? "text-[28px]" : "text-[21px]"} ${tone[opinion.level]}`}
        style={{ fontStretch: "92%" }}
      >
        <span className="translate-y-[2px]">
          <Sign kind={opinion.level} size={large ? 20 : 16} />
        </span>
        {opinion.headline}
      </p>
      {opinion.because && <p className="mt-1 text-soft">{opinion.because}</p>}
    </div>
  );
}

/** Whether it is proven, in a line. */
export function ProofLine({ outcome }: { outcome: Outcome }) {
  const kind = outcome.proof === "open" ? "wait" : outcome.level;
  return (
    <p className={`flex items-center gap-2.5 text-[19px] leading-tight font-[720] ${tone[kind]}`} role="status">
      <Sign kind={kind} size={16} />
      {outcome.headline}
    </p>
  );
}

/** What is shown once the work is done: each with what was found, or the way to where it is read. */
export function ProofList(props: { sheet: Sheet; go: (code: string) => void; entering: boolean }) {
  const { sheet, go, entering } = props;
  const { outcome } = sheet;
  if (!outcome) return null;
  const closed = sheet.job.closed_at !== undefined;
  // What is being entered stands in the form.
  const items = outcome.items.filter((i) => !entering || i.station !== "prove");
  return (
    <div className="mt-4">
      <p className="cap mb-1">{entering ? "Read again, now that the work is done" : "What was shown"}</p>
      <ul className="border-b border-line">
        {items.map((i) => {
          const kind = i.state === "open" ? (i.needed ? "wait" : "note") : i.level;
          const inside = (
            <>
              <Sign kind={kind} size={14} />
              <span className="min-w-0 flex-1 leading-snug">
                <b className="font-[680]">{i.name}</b>{" "}
                <span className={i.state === "open" ? "text-soft" : tone[kind]}>{i.text}</span>
                {i.state === "open" && !i.needed && <span className="text-soft"> Not asked for here.</span>}
              </span>
              {i.station !== "prove" && !closed && (
                <span className="font-[620] whitespace-nowrap">{i.state === "open" ? "Read" : "Again"} ›</span>
              )}
            </>
          );
          const row = "flex min-h-[52px] w-full items-center gap-3 py-1 text-left";
          return (
            <li key={i.code} className="border-t border-line">
              {i.station === "prove" || closed ? (
                <div className={row}>{inside}</div>
              ) : (
                <button className={`${row} hover:bg-hush`} onClick={() => go(i.kind)}>
                  {inside}
                </button>
              )}
            </li>
          );
        })}
      </ul>
    </div>
  );
}
