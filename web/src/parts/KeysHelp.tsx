import { Dialog } from "radix-ui";

const keys: [string, string][] = [
  ["n", "New job"],
  ["/", "Find"],
  ["Enter", "In a figure: save and go on. In Find: open what is found alone"],
  ["Ctrl Enter", "Save, or open the job, from anywhere"],
  ["1 to 9", "On a job: go to that station, while nothing is being entered"],
  ["Space", "In a guide: tick the step. Arrows look ahead and back, Backspace takes the last back"],
  ["Esc", "Leave a field, call off the countdown, close"],
  ["g f", "Go to the floor"],
  ["g b", "Go to the bank"],
  ["g j", "Plan a jump start"],
  ["g s", "Go to the shelf"],
  ["g r", "Go to the register"],
  ["g h", "Go to the house rules"],
  ["?", "This list"],
];

export function KeysHelp({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog.Root open={open} onOpenChange={(now) => !now && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/45" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/2 left-1/2 z-50 w-[min(420px,calc(100vw-32px))] -translate-x-1/2 -translate-y-1/2 rounded-sm border-[1.5px] border-ink bg-card p-6"
        >
          <Dialog.Title className="tight text-2xl font-[780]">Keys</Dialog.Title>
          <dl className="mt-3 grid grid-cols-[96px_1fr] gap-y-2">
            {keys.map(([key, does]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="inline!">{key}</kbd>
                </dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
          <Dialog.Close className="btn btn-line mt-5 w-full">Close</Dialog.Close>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
