import { type DragEvent, useEffect, useRef } from "react";
import type { Pad, PadSet, StoredSound } from "@/core/api/client";
import { useRoving } from "@/shared/focus/roving";
import { SourceSign } from "@/shared/look/sources";
import { block, keyWords, printedOn, rows } from "./keyboard";
import { PadBody } from "./PadBody";
import { dragged, PadButton } from "./PadButton";
import { onSounding } from "./playing";
import { useReported, useView } from "./view";
import { lengthText, secondsOf } from "./waveform";

interface Props {
  show: string;
  set: PadSet;
  sounds: ReadonlyMap<string, StoredSound>;
  silent: ReadonlyMap<string, string>;
  onLay: (pad: string, key: string) => void;
  onFiles: (dropped: DataTransfer, key: string) => void;
}

/** The keyboard's rows as they lie under the hands, every pad on its key; and the number block, where something lies on it. */
export function Board({ show, set, sounds, silent, onLay, onFiles }: Props) {
  const roving = useRoving();
  const reported = useReported();
  const layout = useView((v) => v.layout);
  const hasBlock = set.pads.some((p) => p.key.startsWith("Numpad"));
  const at = new Map(set.pads.map((p) => [p.key, p]));
  const draw = (code: string) => (
    <Key
      key={code}
      show={show}
      code={code}
      printed={printedOn(code, reported, layout)}
      pad={at.get(code)}
      sound={sounds.get(at.get(code)?.sound ?? "")}
      silent={silent.get(at.get(code)?.id ?? "")}
      onLay={onLay}
      onFiles={onFiles}
    />
  );
  return (
    <section {...roving} className="flex min-h-0 grow gap-4 overflow-auto p-3" aria-label={`Keys of ${set.name}`}>
      <div
        className={`@container flex min-h-0 min-w-0 flex-col justify-center gap-1 ${hasBlock ? "w-[80%]" : "w-full"}`}
      >
        {rows.map((row) => (
          <div
            key={row.codes[0]}
            data-row=""
            className="flex max-h-36 min-h-16 grow basis-0 gap-1"
            style={{ paddingLeft: `${(row.inset / 12.8) * 100}%` }}
          >
            {row.codes.map(draw)}
          </div>
        ))}
      </div>
      {hasBlock && (
        <div className="flex w-[20%] flex-col justify-center gap-1">
          {block.map((codes) => (
            <div key={codes[0]} data-row="" className="flex max-h-36 min-h-16 grow basis-0 gap-1">
              {codes.map(draw)}
            </div>
          ))}
        </div>
      )}
    </section>
  );
}

interface KeyProps {
  show: string;
  code: string;
  printed: string;
  pad: Pad | undefined;
  sound: StoredSound | undefined;
  silent: string | undefined;
  onLay: (pad: string, key: string) => void;
  onFiles: (dropped: DataTransfer, key: string) => void;
}

function Key({ show, code, printed, pad, sound, silent, onLay, onFiles }: KeyProps) {
  const drop = (e: DragEvent) => {
    e.preventDefault();
    e.stopPropagation();
    const laid = e.dataTransfer.getData(dragged);
    if (laid) onLay(laid, code);
    else if (e.dataTransfer.types.includes("Files")) onFiles(e.dataTransfer, code);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: what is dropped here can be laid by the inspector's key field, too
    <div
      data-key={code}
      onDragOver={(e) => e.preventDefault()}
      onDrop={drop}
      className={`relative shrink-0 rounded-lg border ${pad ? "border-strong/60 bg-surface" : "border-line"} ${code.startsWith("Numpad") ? "w-[calc((100%-0.5rem)/3)]" : "w-[calc(100cqw/12.8-0.25rem)]"}`}
    >
      <span
        aria-hidden="true"
        className={`pointer-events-none absolute top-0.5 left-1.5 z-10 text-xs ${pad ? "font-semibold text-ink" : "text-quiet/70"}`}
      >
        {printed}
      </span>
      {pad && (
        <PadButton
          show={show}
          pad={pad}
          words={`on ${keyWords(code, printed)}, ${lengthText(secondsOf(pad, sound))}`}
          silent={silent}
          className="absolute inset-0 flex flex-col overflow-hidden rounded-lg text-left"
        >
          <span className="absolute top-1.5 right-1.5">
            <SourceSign source={pad} size={11} />
          </span>
          <span className="block min-h-0 grow px-0.5 pt-4">
            <PadBody pad={pad} sound={sound} />
          </span>
          <span className="block px-1 pb-1">
            <span className="narrow line-clamp-2 text-[11px] leading-tight break-words hyphens-auto">{pad.name}</span>
          </span>
        </PadButton>
      )}
    </div>
  );
}

/** Lights every pad within that sounds, as far as it has come. */
export function useLights() {
  const holder = useRef<HTMLDivElement>(null);
  useEffect(
    () =>
      onSounding((sounding) => {
        for (const pad of holder.current?.querySelectorAll<HTMLElement>("[data-pad]") ?? []) {
          const part = sounding.get(pad.dataset.pad ?? "");
          if (part === undefined) {
            if (pad.dataset.sounds === undefined) continue;
            delete pad.dataset.sounds;
            pad.style.removeProperty("--part");
          } else {
            pad.dataset.sounds = "";
            pad.style.setProperty("--part", String(part));
          }
        }
      }),
    [],
  );
  return holder;
}
