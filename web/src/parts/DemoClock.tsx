import { useMutation, useQueryClient } from "@tanstack/react-query";
import { FastForward } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { api, got } from "../lib/api";
import { serverNow } from "../lib/line";
import { say } from "../lib/notices";
import { useClock } from "../lib/queries";
import { atTime, otherDay } from "../lib/time";

const item = "flex min-h-12 cursor-pointer items-center gap-3 px-4 outline-none data-[highlighted]:bg-hush";

/** Moves the demo workshop's clock on, so that a charge of hours is seen in a minute. */
export function DemoClock() {
  const queries = useQueryClient();
  const clock = useClock();
  const move = useMutation({
    mutationFn: (minutes: number) => got(api.POST("/api/demo/clock", { body: { minutes } })),
    onSuccess: (now) => {
      queries.setQueryData(["clock"], now);
      void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== "clock" });
      const at = Date.parse(now.now);
      say({ text: `The demo workshop's clock is at ${otherDay(at)}${atTime(at)}.`, kind: "wait" });
    },
    onError: (error) => say({ text: error.message, kind: "act" }),
  });
  const next = clock.data?.moments.find((m) => !m.over);
  const until = next ? Math.ceil((Date.parse(next.at) - serverNow()) / 60_000) + 1 : undefined;
  const moves: [number, string][] = [
    [30, "30 min on"],
    [120, "2 h on"],
    [720, "12 h on"],
    [1440, "A day on"],
    [7 * 1440, "A week on"],
    [30 * 1440, "30 days on"],
  ];
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label="Demo clock: move it on"
        title="Demo clock"
        disabled={move.isPending}
        className="flex h-full w-11 shrink-0 items-center justify-center border-l border-white/20 hover:bg-white/10"
      >
        <FastForward size={18} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="end"
        sideOffset={6}
        className="z-40 w-64 rounded-sm border-[1.5px] border-ink bg-card py-1 text-ink shadow-xl"
      >
        <DropdownMenu.Label className="cap px-4 pt-2">Demo clock</DropdownMenu.Label>
        {next && until !== undefined && until <= 1440 && (
          <DropdownMenu.Item className={item} onSelect={() => move.mutate(Math.max(1, until))}>
            To {next.tag}, {next.word}
          </DropdownMenu.Item>
        )}
        {moves.map(([minutes, word]) => (
          <DropdownMenu.Item key={minutes} className={item} onSelect={() => move.mutate(minutes)}>
            {word}
          </DropdownMenu.Item>
        ))}
        <p className="px-4 py-2 text-[13.5px] text-soft">Only the demo has this. It never goes back.</p>
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}
