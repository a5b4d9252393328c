import { useEffect, useRef } from "react";
import type { Finding } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { useUndo } from "@/core/commands/step";
import { dismiss, tell } from "@/core/notices/notices";
import { windowId } from "@/core/realtime/identity";
import { doesHarm, useFindings } from "./findings";

interface Props {
  /** What else is told of the same edit, once that is known for the revision; null: not yet. */
  tellsAlready: ((finding: Finding) => boolean) | null;
}

/** Says at once what an edit has brought that does harm, with the way back at hand where it was this window's. */
export function NewFindings({ tellsAlready }: Props) {
  const found = useFindings();
  const show = useShow().data;
  const undo = useUndo();
  const known = useRef<{ show: string; revision: number; keys: Set<string> }>(undefined);
  const told = useRef<{ key: string; notice: number }[]>([]);
  const last = useRef({ show, undo, tellsAlready });
  last.current = { show, undo, tellsAlready };
  const data = found.isPlaceholderData || !tellsAlready ? undefined : found.data;
  useEffect(() => {
    if (!data) return;
    const harm = data.findings.filter(doesHarm);
    const keys = new Set(harm.map((f) => f.key));
    const before = known.current;
    known.current = { show: data.show, revision: data.revision, keys };
    // What is settled need not be told any longer.
    told.current = told.current.filter(({ key, notice }) => {
      if (!keys.has(key)) dismiss(notice);
      return keys.has(key);
    });
    // Another show: what is found in it was there before.
    if (before?.show !== data.show) return;
    // What is only noticeable may be half of something that is being built: it is counted, and interrupts nobody.
    const [first, ...more] = harm.filter(
      (f) => f.harm === "Serious" && !before.keys.has(f.key) && !last.current.tellsAlready?.(f),
    );
    if (!first) return;
    const step = last.current.show?.toUndo;
    // Without a new step it was the computer that changed: no edit is to blame.
    const mine = step?.window === windowId && step.revision === data.revision && data.revision > before.revision;
    const since = mine ? `Since: ${step.sentence}.` : "";
    const notice = tell(
      "wrong",
      first.sentence,
      more.length > 0 ? `And ${more.length} more. ${since}` : since || undefined,
      mine ? { words: "Take that back", act: () => last.current.undo.mutate() } : undefined,
    );
    told.current.push({ key: first.key, notice });
  }, [data]);
  return null;
}
