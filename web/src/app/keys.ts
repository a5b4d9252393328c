import { useEffect } from "react";
import { useShow } from "@/core/commands/show";
import { useRedo, useUndo } from "@/core/commands/step";
import { commandOf, isFree, useKeySettings } from "@/core/keys/keys";
import { meters } from "@/core/meters/meters";
import { closeInspector, openLayer } from "@/core/place/place";
import { listen, toggleListen } from "@/features/listen";
import { useRecord } from "@/features/takes";
import { useHush } from "./hush";

/** The keys that work everywhere, except while something is typed, or open over the screen. */
export function useKeys() {
  const show = useShow();
  const hush = useHush();
  const { start, stop } = useRecord();
  const undo = useUndo();
  const redo = useRedo();
  const mixes = show.data?.mixes;
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (!isFree(e)) return;
      if (e.ctrlKey || e.metaKey) {
        const back = e.key === "z" && !e.shiftKey;
        const forth = (e.key.toLowerCase() === "z" && e.shiftKey) || e.key === "y";
        if (back) undo.mutate();
        else if (forth) redo.mutate();
        if (back || forth) e.preventDefault();
        return;
      }
      if (e.key === "Escape") {
        closeInspector();
        return;
      }
      const settings = useKeySettings.getState();
      if (!settings.single) return;
      const frame = meters.frame;
      const command = commandOf(e.key, settings);
      const mix = /^[1-9]$/.test(e.key) ? mixes?.[Number(e.key) - 1] : undefined;
      if (command === "hush") hush.mutate(!frame?.hushed);
      else if (command === "record") (frame?.recording ? stop : start).mutate();
      else if (mix) toggleListen({ mix: mix.id });
      else if (e.key === "0") void listen({});
      else if (e.key === "?") openLayer("keys");
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [mixes, hush.mutate, start.mutate, stop.mutate, start, stop, undo.mutate, redo.mutate]);
}
