import { Camera as CameraIcon, NotebookPen } from "lucide-react";
import { lazy, Suspense, useState } from "react";
import { api, got, type Papers, type Sheet } from "../../lib/api";
import { useDraft } from "../../lib/draft";
import { say } from "../../lib/notices";
import { usePaperChange, usePapers } from "../../lib/papers";
import { when } from "../../lib/time";
import { Tick } from "../../parts/Tick";

const Camera = lazy(() => import("../camera/Camera").then((m) => ({ default: m.Camera })));

/** Notes and pictures of the job, under whatever station stands open. */
export function Beside({ sheet }: { sheet: Sheet }) {
  const { id } = sheet.job;
  const papers = usePapers(id);
  const [writing, setWriting] = useState(false);
  const [taking, setTaking] = useState(false);
  const notes = papers.data?.notes ?? [];
  const photos = papers.data?.photos ?? [];
  const [all, setAll] = useState(false);
  const shownNotes = all ? notes : notes.filter((n) => !n.back_at);
  const shownPhotos = all ? photos : photos.filter((p) => !p.back_at);
  const taken = notes.length + photos.length - (shownNotes.length + shownPhotos.length);
  return (
    <section aria-label="Notes and pictures" className="screen-only mt-6 border-t border-line pt-2">
      <div className="flex flex-wrap items-center gap-x-2">
        <h3 className="cap mr-auto">Notes and pictures</h3>
        <button className="btn btn-quiet" aria-expanded={writing} onClick={() => setWriting(!writing)}>
          <NotebookPen size={18} aria-hidden /> Write a note
        </button>
        <button className="btn btn-quiet" onClick={() => setTaking(true)}>
          <CameraIcon size={18} aria-hidden /> Take a picture
        </button>
      </div>
      {papers.isError && !papers.data && (
        <p className="text-soft">
          Notes and pictures did not come.{" "}
          <button className="btn btn-quiet" onClick={() => void papers.refetch()}>
            Try again
          </button>
        </p>
      )}
      {writing && <Write id={id} onDone={() => setWriting(false)} />}
      {shownNotes.length > 0 && (
        <ul className="mt-1">
          {shownNotes.map((n) => (
            <NoteRow key={n.id} id={id} note={n} />
          ))}
        </ul>
      )}
      {shownPhotos.length > 0 && (
        <ul className="mt-2 flex flex-wrap gap-3">
          {shownPhotos.map((p) => (
            <PhotoTile key={p.id} id={id} photo={p} />
          ))}
        </ul>
      )}
      {(taken > 0 || all) && (
        <button className="btn btn-quiet px-0!" onClick={() => setAll(!all)}>
          {all ? "Hide what was taken back" : `Show ${taken} taken back`}
        </button>
      )}
      {taking && (
        <Suspense>
          <Camera id={id} onClose={() => setTaking(false)} />
        </Suspense>
      )}
    </section>
  );
}

const empty = { text: "", shown: false };

function Write({ id, onDone }: { id: string; onDone: () => void }) {
  const { draft, change, clear } = useDraft(`note.${id}`, empty);
  const save = usePaperChange(id, () =>
    got(
      api.POST("/api/jobs/{id}/notes", {
        params: { path: { id } },
        body: { id: draft.id, text: draft.text.trim(), shown: draft.shown },
      }),
    ),
  );
  const send = () =>
    save.mutate(undefined, {
      onSuccess: () => {
        clear();
        onDone();
        say({ text: "The note is kept.", kind: "ok" });
      },
    });
  return (
    <form
      className="mt-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (draft.text.trim()) send();
      }}
    >
      <textarea
        autoFocus
        aria-label="Note"
        className="field min-h-[92px] text-[16px]"
        maxLength={2000}
        value={draft.text}
        onChange={(e) => change({ text: e.target.value })}
        placeholder="What the next hand, or the customer, should know"
      />
      <div className="mt-2 flex flex-wrap items-center gap-3">
        <button data-saves className="btn" disabled={draft.text.trim() === "" || save.isPending}>
          {save.isPending ? "Saving …" : "Save the note"}
        </button>
        <Tick on={draft.shown} onChange={(shown) => change({ shown })} word="On the report too" />
        <button type="button" className="btn btn-quiet" onClick={onDone}>
          Later
        </button>
      </div>
      {save.error && (
        <p role="alert" className="mt-2 text-oxide">
          Not saved. {save.error.message}
        </p>
      )}
    </form>
  );
}

/** Takes a note or picture back, and says so with a way to put it back again. */
function useTakeBack(id: string, what: "notes" | "photos", paper: string, word: string) {
  const run = usePaperChange(id, (back: boolean) => {
    const params = { params: { path: { id, paper } }, body: { back } };
    return got<Papers>(
      what === "notes"
        ? api.PUT("/api/jobs/{id}/notes/{paper}", params)
        : api.PUT("/api/jobs/{id}/photos/{paper}", params),
    );
  });
  const set = (back: boolean) =>
    run.mutate(back, {
      onSuccess: () =>
        back &&
        say({ text: `${word} is taken back. It stays in the history.`, act: { word: "Undo", run: () => set(false) } }),
      onError: (error) => say({ text: `Not done. ${error.message}`, kind: "act" }),
    });
  return { set, busy: run.isPending };
}

function NoteRow({ id, note: n }: { id: string; note: Papers["notes"][number] }) {
  const back = useTakeBack(id, "notes", n.id, "The note");
  return (
    <li className="flex items-start gap-3 border-t border-line py-1.5">
      <span className="min-w-0 flex-1 leading-snug">
        <span className={`whitespace-pre-line ${n.back_at ? "text-soft line-through" : "font-[560]"}`}>{n.text}</span>
        <span className="block text-[13.5px] text-soft">
          {when(n.at)}, {n.by}
          {n.shown && " · on the report"}
          {n.back_by && ` · taken back by ${n.back_by}`}
        </span>
      </span>
      <button className="btn btn-quiet" disabled={back.busy} onClick={() => back.set(!n.back_at)}>
        {n.back_at ? "Put back" : "Take back"}
      </button>
    </li>
  );
}

const what = { label: "Label", damage: "Damage", other: "Picture" };

function PhotoTile({ id, photo: p }: { id: string; photo: Papers["photos"][number] }) {
  const back = useTakeBack(id, "photos", p.id, "The picture");
  const src = `/api/jobs/${id}/photos/${p.id}`;
  const name = p.caption ?? what[p.what];
  return (
    <li className="w-[132px]">
      <a href={src} target="_blank" rel="noopener" className="block border-[1.5px] border-line bg-card">
        <img
          src={`${src}?small=true`}
          alt={name}
          width={p.width}
          height={p.height}
          loading="lazy"
          className={`h-[99px] w-full object-cover ${p.back_at ? "opacity-35" : ""}`}
        />
      </a>
      <p className="truncate text-[13.5px] font-[560]">{name}</p>
      <p className="truncate text-[12.5px] text-soft">
        {when(p.at)}, {p.by}
        {p.shown && " · report"}
      </p>
      <button className="btn btn-quiet px-0!" disabled={back.busy} onClick={() => back.set(!p.back_at)}>
        {p.back_at ? "Put back" : "Take back"}
      </button>
    </li>
  );
}
