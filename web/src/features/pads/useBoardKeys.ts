import { useEffect, useRef } from "react";
import type { PadSet } from "@/core/api/client";
import { useKeySettings } from "@/core/hands/bindings";
import { isFree } from "@/core/hands/free";
import { select } from "@/core/place/place";
import { useStopPads } from "./pads";
import { pressPad, releaseAll, releasePad } from "./playing";
import { togglePreview } from "./preview";
import { useView } from "./view";

/** Keys play the pads that lie on them while the board is shown: before anything else that a letter means, and never while somebody types. */
export function useBoardKeys(show: string, set: PadSet) {
  const { mutate: stopAll } = useStopPads();
  // What is held stays held while somebody changes the set.
  const now = useRef(set);
  now.current = set;
  useEffect(() => {
    const down = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || !useKeySettings.getState().single || !isFree(e)) return;
      if (useView.getState().asksForKey) return;
      const pad = now.current.pads.find((p) => p.key !== "" && p.key === e.code);
      if (!pad && e.key !== "Backspace") return;
      e.preventDefault();
      if (e.repeat) return;
      if (!pad) stopAll();
      else if (e.shiftKey) togglePreview(show, pad.id);
      else if (useView.getState().mode === "arrange") select({ kind: "pad", pad: pad.id });
      else pressPad(show, pad.id, e.code);
    };
    const up = (e: KeyboardEvent) => releasePad(e.code);
    window.addEventListener("keydown", down, { capture: true });
    window.addEventListener("keyup", up, { capture: true });
    window.addEventListener("blur", releaseAll);
    return () => {
      window.removeEventListener("keydown", down, { capture: true });
      window.removeEventListener("keyup", up, { capture: true });
      window.removeEventListener("blur", releaseAll);
      releaseAll();
    };
  }, [show, stopAll]);
}
