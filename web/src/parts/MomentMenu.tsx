import { DropdownMenu } from "radix-ui";
import { LATER, useSay, type Of } from "../lib/moments";
import { useColleagues, usePerson } from "../lib/queries";
import { MomentButton } from "./MomentButton";

const item = "flex min-h-12 cursor-pointer items-center px-4 outline-none data-[highlighted]:bg-hush";

type Props = { of: Of; onGo: () => void; strip?: boolean | undefined; onClose: () => void };

/** What can be said of a moment: it is done, later, somebody else goes. */
export function MomentMenu({ of, onGo, strip, onClose }: Props) {
  const tell = useSay();
  const me = usePerson();
  const people = useColleagues().data?.people ?? [];
  return (
    <DropdownMenu.Root modal={false} defaultOpen onOpenChange={(open) => !open && onClose()}>
      <DropdownMenu.Trigger asChild>
        <MomentButton of={of} strip={strip} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="end"
        sideOffset={6}
        collisionPadding={{ top: 64, bottom: 74, left: 8, right: 8 }}
        className="z-40 max-h-[70vh] w-60 overflow-y-auto rounded-sm border-[1.5px] border-ink bg-card py-1 text-ink shadow-xl"
      >
        <DropdownMenu.Label className="px-4 pt-2 font-[700]">{of.tag}</DropdownMenu.Label>
        <DropdownMenu.Item className={item} onSelect={onGo}>
          Go there
        </DropdownMenu.Item>
        <DropdownMenu.Item className={item} onSelect={() => tell(of, { done: true }, "done")}>
          Done
        </DropdownMenu.Item>
        {LATER.map(([minutes, word]) => (
          <DropdownMenu.Item key={minutes} className={item} onSelect={() => tell(of, { minutes }, word.toLowerCase())}>
            {word}
          </DropdownMenu.Item>
        ))}
        <DropdownMenu.Separator className="my-1 h-px bg-line" />
        <DropdownMenu.Label className="cap px-4 pt-1">Goes there</DropdownMenu.Label>
        {people.map((p) => (
          <DropdownMenu.Item
            key={p.id}
            className={`${item} ${of.to === p.name ? "font-[700]" : ""}`}
            onSelect={() => tell(of, { person_id: p.id }, `${p.name} goes`)}
          >
            {p.name === me.name ? `${p.name} (you)` : p.name}
          </DropdownMenu.Item>
        ))}
        {of.to && (
          <DropdownMenu.Item className={item} onSelect={() => tell(of, {}, "anybody goes")}>
            Anybody
          </DropdownMenu.Item>
        )}
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}
