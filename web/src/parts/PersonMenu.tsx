import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Dialog, DropdownMenu } from "radix-ui";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, got } from "../lib/api";
import { say } from "../lib/notices";
import { isSilent, setSilent } from "../lib/sound";
import { usePerson, useSession, useShowSession } from "../lib/queries";
import { ByPIN } from "./ByPIN";
import { PersonButton } from "./PersonButton";

const item =
  "flex min-h-12 cursor-pointer items-center gap-3 px-4 outline-none data-[highlighted]:bg-hush data-[state=checked]:font-[700]";

/** Who is signed in, how they like their screen, and the way out. */
export function PersonMenu({ onHelp }: { onHelp: () => void }) {
  const person = usePerson();
  const go = useNavigate();
  const show = useShowSession();
  const queries = useQueryClient();
  const others = useSession().data?.by_pin ?? [];
  const [pinOf, setPINOf] = useState<string>();
  const [silent, setSilentHere] = useState(isSilent);
  const prefer = useMutation({
    mutationFn: (body: {
      temperature?: "C" | "F";
      torque?: "Nm" | "inlb";

      theme?: "system" | "light" | "dark";
    }) => got(api.PUT("/api/session/preferences", { body })),
    onSuccess: (session) => {
      show(session);
      // Words with temperatures in them come from the server.
      void queries.invalidateQueries({ queryKey: ["job"] });
      void queries.invalidateQueries({ queryKey: ["life"] });
      void queries.invalidateQueries({ queryKey: ["register"] });
      void queries.invalidateQueries({ queryKey: ["season"] });
    },
  });
  const signOut = useMutation({
    mutationFn: () => got(api.DELETE("/api/session")),
    // A new page knows nothing of who was here.
    onSuccess: () => window.location.assign("/"),
    onError: (error) => say({ text: `Still signed in. ${error.message}`, kind: "act" }),
  });
  return (
    <>
      <Dialog.Root open={pinOf !== undefined} onOpenChange={(open) => !open && setPINOf(undefined)}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-black/45" />
          <Dialog.Content
            aria-describedby={undefined}
            className="fixed top-1/3 left-1/2 z-50 w-[min(420px,calc(100vw-32px))] -translate-x-1/2 -translate-y-1/3 rounded-sm border-[1.5px] border-ink bg-card p-6"
          >
            <Dialog.Title className="tight mb-3 text-2xl font-[780]">Change to {pinOf}</Dialog.Title>
            {pinOf && <ByPIN name={pinOf} onLeave={() => setPINOf(undefined)} />}
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
      <DropdownMenu.Root modal={false} defaultOpen>
        <DropdownMenu.Trigger asChild>
          <PersonButton />
        </DropdownMenu.Trigger>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-40 max-h-[var(--radix-dropdown-menu-content-available-height)] w-64 overflow-y-auto rounded-sm border-[1.5px] border-ink bg-card py-1 shadow-xl"
        >
          <p className="px-4 py-2 text-soft">
            {person.name}, {person.role}
            <br />
            {person.workshop}
          </p>
          {others.map((p) => (
            <DropdownMenu.Item key={p.name} className={item} onSelect={() => setPINOf(p.name)}>
              Change to {p.name}
            </DropdownMenu.Item>
          ))}
          <DropdownMenu.Item className={item} onSelect={() => void go("/account")}>
            Your account
          </DropdownMenu.Item>
          {person.role === "lead" && (
            <DropdownMenu.Item className={item} onSelect={() => void go("/people")}>
              People
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Label className="cap px-4 pt-2">Temperature</DropdownMenu.Label>
          <DropdownMenu.RadioGroup
            className="flex [&>*]:flex-1"
            value={person.temperature}
            onValueChange={(v) => prefer.mutate({ temperature: v as "C" | "F" })}
          >
            <Choice value="C" word="°C" />
            <Choice value="F" word="°F" />
          </DropdownMenu.RadioGroup>
          <DropdownMenu.Label className="cap px-4 pt-2">Torque</DropdownMenu.Label>
          <DropdownMenu.RadioGroup
            className="flex [&>*]:flex-1"
            value={person.torque}
            onValueChange={(v) => prefer.mutate({ torque: v as "Nm" | "inlb" })}
          >
            <Choice value="Nm" word="N·m" />
            <Choice value="inlb" word="in·lb" />
          </DropdownMenu.RadioGroup>
          <DropdownMenu.Label className="cap px-4 pt-2">Screen</DropdownMenu.Label>
          <DropdownMenu.RadioGroup
            value={person.theme}
            onValueChange={(v) => prefer.mutate({ theme: v as "system" | "light" | "dark" })}
          >
            <Choice value="system" word="As the device" />
            <Choice value="light" word="Light" />
            <Choice value="dark" word="Dark" />
          </DropdownMenu.RadioGroup>
          <DropdownMenu.Label className="cap px-4 pt-2">The clock, on this device</DropdownMenu.Label>
          <DropdownMenu.CheckboxItem
            className={item}
            checked={!silent}
            onCheckedChange={(on) => {
              setSilent(!on);
              setSilentHere(!on);
            }}
            onSelect={(e) => e.preventDefault()}
          >
            <span className="w-4" aria-hidden>
              <DropdownMenu.ItemIndicator>●</DropdownMenu.ItemIndicator>
            </span>
            Calls with sound
          </DropdownMenu.CheckboxItem>
          <DropdownMenu.Separator className="my-1 h-px bg-line" />
          <DropdownMenu.Item className={`${item} md:hidden`} onSelect={() => void go("/season")}>
            Season
          </DropdownMenu.Item>
          <DropdownMenu.Item className={`${item} md:hidden`} onSelect={() => void go("/jump")}>
            Jump start
          </DropdownMenu.Item>
          <DropdownMenu.Item className={`${item} md:hidden`} onSelect={() => void go("/shelf")}>
            Shelf
          </DropdownMenu.Item>
          <DropdownMenu.Item className={`${item} lg:hidden`} onSelect={() => void go("/register")}>
            Register
          </DropdownMenu.Item>
          <DropdownMenu.Item className={`${item} lg:hidden`} onSelect={() => void go("/rules")}>
            House rules
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={onHelp}>
            Keys <kbd className="ml-auto">?</kbd>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => window.open("/api/docs", "_blank", "noopener")}>
            HTTP interface
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => signOut.mutate()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Root>
    </>
  );
}

function Choice({ value, word }: { value: string; word: string }) {
  return (
    <DropdownMenu.RadioItem value={value} className={item} onSelect={(e) => e.preventDefault()}>
      <span className="w-4" aria-hidden>
        <DropdownMenu.ItemIndicator>●</DropdownMenu.ItemIndicator>
      </span>
      {word}
    </DropdownMenu.RadioItem>
  );
}
