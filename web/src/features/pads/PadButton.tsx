import { VolumeX } from "lucide-react";
import type { ReactNode } from "react";
import type { Pad } from "@/core/api/client";
import { select, usePlace } from "@/core/place/place";
import { stop } from "@/shared/focus/roving";
import { pressPad, releasePad } from "./playing";
import { usePreview } from "./preview";
import { useView } from "./view";

export const dragged = "application/x-kinetra-pad";

interface Props {
  show: string;
  pad: Pad;
  /** Its length, its key: what is said of it beside its name. */
  words: string;
  /** Why a press plays nothing; undefined: it plays. */
  silent: string | undefined;
  className: string;
  children: ReactNode;
}

/** A pad as a thing to press: while hands play it sounds as long as it is held, while they arrange it is chosen and moved. */
export function PadButton({ show, pad, words, silent, className, children }: Props) {
  const mode = useView((v) => v.mode);
  const isFound = useView((v) => v.search === "" || pad.name.toLowerCase().includes(v.search.toLowerCase()));
  const isChosen = usePlace((p) => p.selection?.kind === "pad" && p.selection.pad === pad.id);
  const isPreviewed = usePreview((p) => p.pad === pad.id);
  const plays = mode === "play";
  return (
    <button
      type="button"
      {...stop}
      data-pad={pad.id}
      data-focus={`pad/${pad.id}`}
      aria-label={`${pad.name}, ${words}${silent ? `. Silent: ${silent}` : ""}`}
      aria-pressed={plays ? undefined : isChosen}
      title={silent ?? undefined}
      draggable={!plays}
      onDragStart={(e) => e.dataTransfer.setData(dragged, pad.id)}
      onPointerDown={(e) => {
        if (!plays || e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        pressPad(show, pad.id, `pointer ${e.pointerId}`);
      }}
      onPointerUp={(e) => releasePad(`pointer ${e.pointerId}`)}
      onPointerCancel={(e) => releasePad(`pointer ${e.pointerId}`)}
      onKeyDown={(e) => {
        if (!plays || (e.key !== "Enter" && e.key !== " ")) return;
        e.preventDefault();
        if (!e.repeat) pressPad(show, pad.id, `on it ${e.code}`);
      }}
      onKeyUp={(e) => {
        if (plays && e.key === " ") e.preventDefault();
        releasePad(`on it ${e.code}`);
      }}
      onContextMenu={(e) => {
        e.preventDefault();
        // A finger that holds a pad plays it, and asks for nothing.
        if ((e.nativeEvent as PointerEvent).pointerType === "touch") return;
        select({ kind: "pad", pad: pad.id });
      }}
      onClick={() => {
        if (!plays) select({ kind: "pad", pad: pad.id });
      }}
      className={`pad touch-none select-none ${isChosen ? "ring-2 ring-ink" : ""} ${isPreviewed ? "outline-2 outline-focus outline-dashed" : ""} ${isFound ? "" : "opacity-25"} ${className}`}
    >
      {children}
      {silent && (
        <VolumeX size={13} className="absolute top-5 right-1 rounded bg-surface text-wrong" aria-hidden="true" />
      )}
    </button>
  );
}
