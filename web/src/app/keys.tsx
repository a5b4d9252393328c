import { useEffect } from "react";
import { listen, toggleListen } from "../listen/listen";
import { meters } from "../live/meters";
import { useRedo, useShow, useUndo } from "../show/show";
import { useRecord } from "../takes/takes";
import { Dialog } from "../ui/Dialog";
import { useHush } from "./hush";

const everywhere: [string, string][] = [
  ["H", "Hush: silence for every listener, and back"],
  ["R", "Record, and end the take"],
  ["1 – 9", "Listen to that lane; again: stop"],
  ["0", "Listen to nothing"],
  ["Ctrl Z", "Undo, whichever window it was; with Shift: redo"],
  ["?", "These keys"],
];

const onMarker: [string, string][] = [
  ["← →", "Its send by 0.5 dB; with Shift by 0.1 dB"],
  ["Page ↑ ↓", "Its send by 3 dB"],
  ["0", "Its send to 0 dB"],
  ["Home", "Off"],
  ["M", "Mute, in its place"],
  ["D", "Into the dock"],
  ["Enter", "Its numbers"],
];

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}

/** True while a menu, a list of choices or a dialog is open: letters search in it, and must do nothing else. */
function isLayerOpen(): boolean {
  return document.querySelector('[role="menu"], [role="listbox"], [role="dialog"], [role="alertdialog"]') !== null;
}

/** The keys that work everywhere, except while something is typed, or open over the screen. */
export function useKeys(openKeys: () => void) {
  const show = useShow();
  const hush = useHush();
  const { start, stop } = useRecord();
  const undo = useUndo();
  const redo = useRedo();
  const mixes = show.data?.mixes;
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.defaultPrevented || e.repeat || e.altKey || isTyping(e.target) || isLayerOpen()) return;
      if (e.ctrlKey || e.metaKey) {
        const back = e.key === "z" && !e.shiftKey;
        const forth = (e.key.toLowerCase() === "z" && e.shiftKey) || e.key === "y";
        if (back) undo.mutate();
        else if (forth) redo.mutate();
        if (back || forth) e.preventDefault();
        return;
      }
      const frame = meters.frame;
      const mix = /^[1-9]$/.test(e.key) ? mixes?.[Number(e.key) - 1] : undefined;
      if (e.key === "h" || e.key === "H") hush.mutate(!frame?.hushed);
      else if (e.key === "r" || e.key === "R") (frame?.recording ? stop : start).mutate();
      else if (mix) toggleListen({ mix: mix.id });
      else if (e.key === "0") void listen({});
      else if (e.key === "?") openKeys();
      else return;
      e.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [mixes, hush.mutate, start.mutate, stop.mutate, openKeys, start, stop, undo.mutate, redo.mutate]);
}

export function KeysDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="All keys"
      words="They rest while you type into a field, and while a menu or a window like this one is open."
    >
      <KeyList title="Everywhere" keys={everywhere} />
      <KeyList title="On a marker of a lane" keys={onMarker} />
    </Dialog>
  );
}

function KeyList({ title, keys }: { title: string; keys: [string, string][] }) {
  return (
    <>
      <h3 className="mt-3 mb-1.5 text-xs font-semibold text-quiet">{title}</h3>
      <dl className="grid grid-cols-[6rem_1fr] gap-y-1 text-[13px]">
        {keys.map(([key, does]) => (
          <div key={key} className="contents">
            <dt>
              <kbd className="rounded border border-line bg-raised px-1.5 py-0.5 font-sans text-xs">{key}</kbd>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}
