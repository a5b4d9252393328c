import type { Pad, StoredSound } from "@/core/api/client";
import { useRoving } from "@/shared/focus/roving";
import { SourceSign } from "@/shared/look/sources";
import { PadBody } from "./PadBody";
import { PadButton } from "./PadButton";
import { lengthText, secondsOf } from "./waveform";

interface Props {
  show: string;
  pads: readonly Pad[];
  sounds: ReadonlyMap<string, StoredSound>;
  silent: ReadonlyMap<string, string>;
  label: string;
  className?: string;
}

/** Pads as wide bars, one below the other: those that wait for a key, and all of them on a phone. */
export function PadBars({ show, pads, sounds, silent, label, className = "" }: Props) {
  const roving = useRoving();
  return (
    <ul {...roving} aria-label={label} className={className}>
      {pads.map((pad) => {
        const sound = sounds.get(pad.sound);
        const length = lengthText(secondsOf(pad, sound));
        return (
          <li key={pad.id} data-row="" className="flex items-center gap-1">
            <PadButton
              show={show}
              pad={pad}
              words={length}
              silent={silent.get(pad.id)}
              className="relative flex h-11 min-w-0 grow items-center gap-2 overflow-hidden rounded-lg border border-strong/60 bg-surface px-2 text-left"
            >
              <SourceSign source={pad} size={12} />
              <span className="min-w-0 basis-2/5 truncate text-[13px]">{pad.name}</span>
              <span className="h-8 min-w-0 grow">
                <PadBody pad={pad} sound={sound} points={90} />
              </span>
            </PadButton>
            {/* Beside what plays: here a finger moves the list. */}
            <span aria-hidden="true" className="w-12 shrink-0 py-3 text-right text-xs text-quiet tabular-nums">
              {length}
            </span>
          </li>
        );
      })}
    </ul>
  );
}
