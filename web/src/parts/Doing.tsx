import { Sign, tone, type SignKind } from "./Sign";

/** How a battery on a charger is doing, and what to do now. */
export function Doing({ sign, text, act }: { sign: SignKind; text: string; act?: string | undefined }) {
  return (
    <p className="flex items-start gap-2 text-[17px] leading-snug font-[640]">
      <span className="mt-[3px]">
        <Sign kind={sign} size={18} />
      </span>
      <span>
        <span className={tone[sign]}>{text}</span>
        {act && <span className="block font-[520]">{act}</span>}
      </span>
    </p>
  );
}
