import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { useState } from "react";
import { api, got, Refused, table } from "../../lib/api";
import { say } from "../../lib/notices";
import { usePerson } from "../../lib/queries";
import { Feed } from "../../parts/Feed";
import { PickFile } from "../../parts/PickFile";
import { Tick } from "../../parts/Tick";

/** Everything a shop owns, out and in again; and its calendar. */
export function InAndOut() {
  const lead = usePerson().role === "lead";
  return (
    <div className="mx-auto max-w-[900px] px-4 py-4 md:px-6">
      <p className="cap">The shop</p>
      <h1 tabIndex={-1} className="tight text-[30px] leading-[1.1] font-[780] outline-none">
        In and out
      </h1>
      <p className="mt-1 text-soft">
        What stands here is the shop’s own: take it with you whenever you like, and bring it in elsewhere.
      </p>
      {lead ? <Tables /> : <p className="mt-4">A lead can take out and bring in.</p>}
      <Feed of="shop" mayChange={lead} />
      <section className="mt-6" aria-label="Backup">
        <h2 className="text-[18px] font-[700]">Everything at once</h2>
        <p className="text-soft">
          Whoever runs the server backs up all of it, pictures too, while you work:{" "}
          <code className="font-[620] text-ink">grapnel backup FILE</code>, and{" "}
          <code className="font-[620] text-ink">grapnel restore FILE</code> to put it back.
        </p>
      </section>
    </div>
  );
}

const tables = [
  { code: "jobs", word: "Jobs", says: "with label, complaint, verdict and the rules they were judged by" },
  { code: "readings", word: "Readings", says: "every one, corrections too, to the digit; after the jobs" },
  { code: "batteries", word: "Batteries", says: "each with the label last read from it" },
] as const;

type Table = (typeof tables)[number]["code"];

function Tables() {
  const queries = useQueryClient();
  const [same, setSame] = useState(false);
  const bring = useMutation({
    mutationFn: async ({ what, file }: { what: Table; file: File }) => {
      const query = { params: { query: same ? { battery: "same" as const } : {} } };
      const body = await table(file);
      if (what === "jobs") return got(api.POST("/api/import/jobs", { ...query, ...body }));
      if (what === "readings") return got(api.POST("/api/import/readings", { ...query, ...body }));
      return got(api.POST("/api/import/batteries", { ...query, ...body }));
    },
    onSuccess: (n, { what }) => {
      void queries.invalidateQueries();
      say({
        text: `${n.added} ${what} came in${n.known > 0 ? `, ${n.known} were here already` : ""}.`,
        kind: "ok",
      });
    },
  });
  const problems = bring.error instanceof Refused ? bring.error.problem.errors : undefined;
  return (
    <section aria-label="Tables" className="mt-4">
      <h2 className="text-[18px] font-[700]">Tables</h2>
      <p className="text-soft">
        Plain CSV for any spreadsheet. What comes in is added; nothing that stands is overwritten.
      </p>
      <ul className="mt-2 border-b border-line">
        {tables.map((t) => (
          <li key={t.code} className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-line py-2">
            <span className="min-w-0 flex-1 basis-full leading-snug sm:basis-[240px]">
              <b className="text-[17px] font-[680]">{t.word}</b> <span className="text-soft">{t.says}</span>
            </span>
            <a className="btn btn-line" href={`/api/export/${t.code}`} download aria-label={`${t.word}, out`}>
              <Download size={18} aria-hidden /> Out
            </a>
            <PickFile
              word="In"
              label={`A table of ${t.code}`}
              accept=".csv,text/csv"
              busy={bring.isPending && bring.variables.what === t.code}
              onFile={(file) => bring.mutate({ what: t.code, file })}
            />
          </li>
        ))}
        <li className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-line py-2">
          <span className="min-w-0 flex-1 basis-full leading-snug sm:basis-[240px]">
            <b className="text-[17px] font-[680]">Notes</b> <span className="text-soft">who wrote what, and when</span>
          </span>
          <a className="btn btn-line" href="/api/export/notes" download aria-label="Notes, out">
            <Download size={18} aria-hidden /> Out
          </a>
        </li>
        <li className="flex flex-wrap items-center gap-x-4 gap-y-2 border-t border-line py-2">
          <span className="min-w-0 flex-1 basis-full leading-snug sm:basis-[240px]">
            <b className="text-[17px] font-[680]">Case files</b>{" "}
            <span className="text-soft">of every job, packed: each can be judged again, anywhere</span>
          </span>
          <a className="btn btn-line" href="/api/export/cases" download aria-label="Case files, out">
            <Download size={18} aria-hidden /> Out
          </a>
        </li>
      </ul>
      <Tick
        on={same}
        onChange={setSame}
        word="A tag that is known here with another label is the same battery: take the label that comes"
      />
      {bring.error && (
        <div role="alert" className="mt-2 border-l-4 border-oxide bg-card px-4 py-2">
          <b className="font-[680] text-oxide">Nothing came in.</b>
          {problems ? (
            <ul>
              {problems.map((p, i) => (
                <li key={i}>
                  {p.location?.replace(/^body\.?/, "")} {p.message}
                </li>
              ))}
            </ul>
          ) : (
            <p>{bring.error.message}</p>
          )}
        </div>
      )}
    </section>
  );
}
