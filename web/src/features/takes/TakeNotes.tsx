import { useEffect, useRef, useState } from "react";
import type { Take } from "@/core/api/client";
import { useChangeTake } from "./takeChanges";

const longest = 4_000;

// By take: what could not be kept once its field was gone. It stands there again when the field does.
const lost = new Map<string, string>();

/** What a person notes of a take. Going elsewhere keeps it, Escape leaves it as it was. */
export function TakeNotes({ take }: { take: Take }) {
  const { mutateAsync } = useChangeTake(take.id);
  const [typed, setText] = useState<string | null>(null);
  const text = typed ?? lost.get(take.id) ?? null;
  const keep = (said: string) => {
    lost.delete(take.id);
    // What could not be kept comes back, unless something else is being written by then.
    mutateAsync({ notes: said }).catch(() => {
      lost.set(take.id, said);
      setText((now) => now ?? said);
    });
  };

  // Whoever goes to another screen has left the field too, and loses nothing.
  const unsaved = useRef<string | null>(null);
  // What could not be kept is unsaved, too, while the take still shows what was wished.
  unsaved.current = text !== null && (text !== take.notes || lost.has(take.id)) ? text : null;
  const save = useRef(keep);
  save.current = keep;
  useEffect(
    () => () => {
      if (unsaved.current !== null) save.current(unsaved.current);
    },
    [],
  );

  const shown = text ?? take.notes;
  return (
    <textarea
      aria-label={`Notes on ${take.name}`}
      placeholder="Notes"
      rows={Math.min(8, Math.max(1, shown.split("\n").length))}
      maxLength={longest}
      value={shown}
      onChange={(e) => setText(e.target.value)}
      onBlur={() => {
        const said = unsaved.current;
        unsaved.current = null;
        setText(null);
        if (said !== null) keep(said);
      }}
      onKeyDown={(e) => {
        if (e.key !== "Escape" || text === null) return;
        e.preventDefault();
        e.stopPropagation();
        lost.delete(take.id);
        setText(take.notes);
      }}
      className="mt-1 -ml-2 block w-full resize-none max-w-2xl rounded-md border border-transparent bg-transparent px-2 py-1 text-[13px] hover:border-line focus:border-line focus:bg-ground"
    />
  );
}
