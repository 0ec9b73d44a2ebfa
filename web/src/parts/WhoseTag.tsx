type Props = { answer: (battery: "same" | "other") => void; other?: boolean };

/** The answers to whose a tag is that is known here. */
export function WhoseTag({ answer, other = true }: Props) {
  return (
    <>
      <button type="button" className="btn" onClick={() => answer("same")}>
        That battery
      </button>
      {other && (
        <button type="button" className="btn btn-line" onClick={() => answer("other")}>
          Another one, give it the next tag
        </button>
      )}
    </>
  );
}
