import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useCallback, useEffect, useRef, useState } from "react";
import { v7 as uuid } from "uuid";
import { got, reach, type Papers } from "../../lib/api";
import { say } from "../../lib/notices";
import { PickOne } from "../../parts/Chips";
import { PickFile } from "../../parts/PickFile";
import { Tick } from "../../parts/Tick";

/** The longest side that is sent, points: more shows nothing more, and takes long on a slow line. */
const SIDE = 1600;

const kinds = [
  { code: "label", word: "The label" },
  { code: "damage", word: "Damage" },
  { code: "other", word: "Something else" },
];

/** A picture with the device's camera, or one that was taken before; nothing is sent until it is kept. */
export function Camera({ id, onClose }: { id: string; onClose: () => void }) {
  const queries = useQueryClient();
  const video = useRef<HTMLVideoElement>(null);
  const still = useRef<HTMLCanvasElement>(null);
  const [ready, setReady] = useState(false);
  const [trouble, setTrouble] = useState("");
  const [shot, setShot] = useState<string>(); // the id it is kept under
  const [what, setWhat] = useState("label");
  const [caption, setCaption] = useState("");
  const [shown, setShown] = useState(true);
  const [sending, setSending] = useState(false);
  const [error, setError] = useState("");
  useEffect(() => {
    if (shot) return;
    let stream: MediaStream | undefined;
    let over = false;
    const open = async () => {
      try {
        stream = await navigator.mediaDevices.getUserMedia({
          video: { facingMode: "environment", width: { ideal: 1920 } },
          audio: false,
        });
        if (over || !video.current) return stream.getTracks().forEach((t) => t.stop());
        video.current.srcObject = stream;
        await video.current.play();
        setReady(true);
      } catch {
        setTrouble("There is no camera here that may be used. Choose a picture that was taken before.");
      }
    };
    void open();
    return () => {
      over = true;
      setReady(false);
      stream?.getTracks().forEach((t) => t.stop());
    };
  }, [shot]);
  const hold = useCallback((source: CanvasImageSource, w: number, h: number) => {
    const canvas = still.current!;
    const part = Math.min(1, SIDE / Math.max(w, h));
    canvas.width = Math.round(w * part);
    canvas.height = Math.round(h * part);
    canvas.getContext("2d")!.drawImage(source, 0, 0, canvas.width, canvas.height);
    setError("");
    setShot(uuid());
  }, []);
  const choose = async (file: File) => {
    try {
      const image = await createImageBitmap(file, { imageOrientation: "from-image" });
      hold(image, image.width, image.height);
      image.close();
    } catch {
      setError("This is no picture that can be read here. Choose a JPEG or PNG.");
    }
  };
  const keep = async () => {
    setSending(true);
    setError("");
    try {
      const blob = await new Promise<Blob | null>((done) => still.current!.toBlob(done, "image/jpeg", 0.86));
      if (!blob) throw new Error("This picture cannot be kept. Take it again.");
      const query = new URLSearchParams({ id: shot!, what, shown: String(shown) });
      if (caption.trim()) query.set("caption", caption.trim());
      const response = await reach(`/api/jobs/${id}/photos?${query}`, {
        method: "POST",
        body: blob,
        headers: { "Content-Type": "image/jpeg" },
      });
      const body: unknown = await response.json().catch(() => undefined);
      const papers = await got(
        Promise.resolve(response.ok ? { data: body as Papers, response } : { error: body, response }),
      );
      queries.setQueryData(["job", id, "papers"], papers);
      say({ text: "The picture is kept.", kind: "ok" });
      onClose();
    } catch (e) {
      setError(
        e instanceof TypeError || e instanceof DOMException
          ? "The server cannot be reached. The picture stays here: keep it once the line is back."
          : (e as Error).message,
      );
    } finally {
      setSending(false);
    }
  };
  return (
    <Dialog.Root open onOpenChange={(open) => !open && !sending && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[#0a1114]/75" />
        <Dialog.Content
          aria-describedby={undefined}
          onInteractOutside={(e) => shot && e.preventDefault()}
          className="fixed inset-x-0 top-0 z-50 mx-auto flex max-h-[100dvh] w-full max-w-[720px] flex-col gap-3 overflow-y-auto bg-paper p-4 shadow-xl md:top-[4vh] md:border-[1.5px] md:border-ink"
        >
          <div className="flex items-center gap-3">
            <Dialog.Title className="text-[21px] font-[740]">{shot ? "Keep this one?" : "Take a picture"}</Dialog.Title>
            <button className="btn btn-quiet ml-auto" onClick={onClose} disabled={sending}>
              Close
            </button>
          </div>
          <div className="flex min-h-[180px] items-center justify-center border-[1.5px] border-ink bg-strip">
            <video
              ref={video}
              playsInline
              muted
              aria-label="What the camera sees"
              className={`max-h-[46vh] w-full object-contain ${shot || trouble ? "hidden" : ""}`}
            />
            <canvas
              ref={still}
              role="img"
              aria-label="The picture as it will be kept"
              className={`max-h-[46vh] max-w-full ${shot ? "" : "hidden"}`}
            />
            {trouble && !shot && <p className="p-4 text-[#efeae0]">{trouble}</p>}
          </div>
          <PickOne label="What it shows" chips={kinds} value={what} onPick={setWhat} row />
          {shot && (
            <>
              <input
                className="field"
                aria-label="A few words about it"
                placeholder="A few words about it"
                maxLength={200}
                value={caption}
                onChange={(e) => setCaption(e.target.value)}
              />
              <Tick on={shown} onChange={setShown} word="On the report too" />
            </>
          )}
          {error && (
            <p role="alert" className="text-oxide">
              {error}
            </p>
          )}
          <div className="flex flex-wrap gap-3">
            {shot ? (
              <>
                <button className="btn btn-act flex-1" onClick={() => void keep()} disabled={sending}>
                  {sending ? "Sending …" : "Keep it"}
                </button>
                <button className="btn btn-line" onClick={() => setShot(undefined)} disabled={sending}>
                  Take it again
                </button>
              </>
            ) : (
              <>
                <button
                  className="btn btn-act flex-1"
                  disabled={!ready}
                  onClick={() => {
                    const v = video.current!;
                    hold(v, v.videoWidth, v.videoHeight);
                  }}
                >
                  {ready || trouble ? "Take it" : "The camera opens …"}
                </button>
                <PickFile
                  word="One taken before"
                  label="A picture that was taken before"
                  accept="image/*"
                  busy={false}
                  onFile={(f) => void choose(f)}
                />
              </>
            )}
          </div>
          <p className="text-[13.5px] text-soft">
            Place, time and device are taken out of it before it is kept. No faces, no number plates unless they matter.
          </p>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
