import { useState } from "react";
import { useNavigate } from "react-router";
import { useImport } from "../../lib/cases";
import { PickFile } from "../../parts/PickFile";
import { Sign } from "../../parts/Sign";
import { WhoseTag } from "../../parts/WhoseTag";

/** Opens a job from a case file; where its tag is known here it asks whose it is. */
export function ImportCase() {
  const [file, setFile] = useState<File>();
  const go = useNavigate();
  const load = useImport((id) => void go(`/jobs/${id}`));
  const { error } = load;
  const take = (chosen: File, battery?: "same" | "other") => load.mutate({ file: chosen, battery });
  return (
    <div>
      <PickFile
        word="Import a case"
        label="Case file to open as a new job"
        accept=".json,application/json"
        busy={load.isPending}
        onFile={(chosen) => {
          setFile(chosen);
          take(chosen);
        }}
      />
      {error && (
        <div
          role="alert"
          className={`fixed right-4 bottom-[calc(var(--strip-h)+16px)] left-4 z-30 max-w-[560px] rounded-sm border-[1.5px] bg-card p-4 md:left-auto ${error.so === "mend" ? "border-oxide" : "border-copper"}`}
        >
          {error.so === "mend" ? (
            <>
              <p className="flex items-center gap-2 font-[700] text-oxide">
                <Sign kind="stop" bare /> The file was not taken. Nothing was saved.
              </p>
              <ul className="mt-1 max-h-48 list-disc overflow-auto pl-5 break-words" tabIndex={0}>
                {error.lines.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            </>
          ) : (
            <p className="flex items-baseline gap-2 font-[700] text-copper">
              <Sign kind="act" bare /> {error.lines[0]}
            </p>
          )}
          <div className="mt-3 flex flex-wrap gap-2">
            {error.so === "say" && file && <WhoseTag answer={(battery) => take(file, battery)} />}
            {error.so === "again" && file && (
              <button className="btn" onClick={() => take(file, load.variables?.battery)}>
                Send it again
              </button>
            )}
            <button className="btn btn-line" onClick={() => load.reset()}>
              {error.so === "mend" ? "Close" : "Leave it"}
            </button>
          </div>
        </div>
      )}
    </div>
  );
}
