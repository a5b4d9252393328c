import { useEffect, useRef } from "react";
import type { Watched } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { useUndo } from "@/core/commands/step";
import { dismiss, tell } from "@/core/notices/notices";
import { windowId } from "@/core/realtime/identity";
import { usePromises } from "./promises";

/** What is broken of a promise, where anything is. */
function brokenBy(watched: Watched) {
  return watched.routing.state === "Broken" ? watched.routing : watched.sound.state === "Broken" ? watched.sound : null;
}

/** Says at once that a promise broke: by an edit, with the way back at hand where it was this window's, or by what is heard. */
export function NewBreaks() {
  const promises = usePromises();
  const show = useShow().data;
  const undo = useUndo();
  const known = useRef<{ show: string; revision: number; ids: Set<string> }>(undefined);
  const told = useRef<{ id: string; notice: number }[]>([]);
  const last = useRef({ show, undo });
  last.current = { show, undo };
  const data = promises.isPlaceholderData ? undefined : promises.data;
  useEffect(() => {
    if (!data) return;
    const broken = data.promises.filter((p) => p.state === "Broken");
    const ids = new Set(broken.map((p) => p.promise.id));
    const before = known.current;
    known.current = { show: data.show, revision: data.revision, ids };
    // What is mended need not be told any longer.
    told.current = told.current.filter(({ id, notice }) => {
      if (!ids.has(id)) dismiss(notice);
      return ids.has(id);
    });
    if (before?.show !== data.show) return;
    // One that was made just now is told where it was made.
    const [first, ...more] = broken.filter((p) => !before.ids.has(p.promise.id));
    const why = first && brokenBy(first);
    if (!why) return;
    const step = last.current.show?.toUndo;
    const mine =
      first.routing.state === "Broken" &&
      step?.window === windowId &&
      step.revision === data.revision &&
      data.revision > before.revision;
    const rest = more.length > 0 ? `And ${more.length} more. ` : "";
    const notice = tell(
      "wrong",
      `A promise is broken: ${first.sentence}. ${why.why}`,
      (rest + (mine ? `Since: ${step.sentence}.` : "")).trim() || undefined,
      mine ? { words: "Take that back", act: () => last.current.undo.mutate() } : undefined,
    );
    told.current.push({ id: first.promise.id, notice });
  }, [data]);
  return null;
}
