import { useState } from "react";
import type { StoredBody } from "../../lib/api";
import { readNumber, showNumber } from "../../lib/units";
import { NumberEntry } from "../../parts/NumberEntry";
import { Sign } from "../../parts/Sign";
import { useLook } from "./useLook";

/** A look at a stored battery: its rest volts, or that it was charged. */
export function LookEntry({ body, first }: { body: StoredBody; first?: boolean }) {
  const { line, doc } = body;
  const { save } = useLook(line.id, line.tag);
  const [volts, setVolts] = useState("");
  const [kept, setKept] = useState(false);
  const number = readNumber(volts);
  const drives = doc.way === "drive_every";
  const done = (how: "kept" | "saved") => {
    setKept(how === "kept");
    setVolts("");
  };
  const keep = () => number !== undefined && save.mutate({ rest_volts: number }, { onSuccess: done });
  return (
    <section aria-label="Look at it" className="min-w-0">
      <NumberEntry
        label="Rest volts now"
        unit="V"
        big
        value={volts}
        onChange={setVolts}
        onEnter={keep}
        first={first ?? false}
        hint={line.now.next?.volts ? `as planned: ${showNumber(line.now.next.volts, 2)} or more` : ""}
        error={save.error ? save.error.message : undefined}
        action={
          <>
            <button
              className="btn btn-act flex-1"
              data-saves
              disabled={number === undefined || save.isPending}
              onClick={keep}
            >
              {save.isPending ? "Saving …" : "Save the look"} <kbd>Enter</kbd>
            </button>
            <button
              className="btn btn-line"
              disabled={save.isPending}
              onClick={() => save.mutate({ charged: true }, { onSuccess: done })}
            >
              It is charged full
            </button>
            {drives && (
              <button
                className="btn btn-line"
                disabled={save.isPending}
                onClick={() =>
                  save.mutate(
                    {
                      drive_minutes: Math.round(
                        body.plan.ways.find((w) => w.way === "drive_every")?.drive_minutes ?? 60,
                      ),
                    },
                    { onSuccess: done },
                  )
                }
              >
                It was driven
              </button>
            )}
          </>
        }
      />
      {kept && (
        <p role="status" className="mt-2 flex items-center gap-2 font-[640]">
          <Sign kind="wait" bare /> Kept on this device. It is sent when the line is back.
        </p>
      )}
    </section>
  );
}
