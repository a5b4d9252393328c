import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { answer, api, type PadSet, Refusal, type StoredSound } from "@/core/api/client";
import { acceptShow, toldShow } from "@/core/commands/show";
import { refused, to } from "@/core/commands/step";
import { tell } from "@/core/notices/notices";
import { freeKeys } from "./keyboard";
import { takeIn } from "./pads";
import { soundsOf } from "./soundFiles";

/** The most pads of a set. */
export const mostPads = 100;

/** All files that were dropped, those in folders too. */
export async function filesOf(dropped: DataTransfer): Promise<File[]> {
  const entries = [...dropped.items].map((i) => i.webkitGetAsEntry?.()).filter((e): e is FileSystemEntry => !!e);
  if (entries.length === 0) return [...dropped.files];
  const files: File[] = [];
  for (const entry of entries) await collect(entry, files);
  return files;
}

async function collect(entry: FileSystemEntry, files: File[]): Promise<void> {
  if (entry.isFile) {
    files.push(await new Promise<File>((done, failed) => (entry as FileSystemFileEntry).file(done, failed)));
    return;
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  for (;;) {
    // It gives some hundred at a time, and none at the end.
    const some = await new Promise<FileSystemEntry[]>((done, failed) => reader.readEntries(done, failed));
    if (some.length === 0) return;
    for (const one of some) await collect(one, files);
  }
}

export interface Progress {
  done: number;
  all: number;
}

/** Adds files to a set as pads: read in one after the other, laid on free keys, and added in one step. */
export function useAddFiles(set: PadSet | null) {
  const queries = useQueryClient();
  const [progress, setProgress] = useState<Progress | null>(null);
  const stopped = useRef(false);
  // What comes while others are read in waits for its turn; nothing that was dropped is forgotten.
  const turn = useRef(Promise.resolve());
  const now = useRef(set);
  now.current = set;

  const addNow = useCallback(
    async (all: readonly File[], key?: string) => {
      const show = toldShow(queries);
      const set = show?.padSets.find((s) => s.id === now.current?.id);
      if (!set || !show) return;
      const sounds = soundsOf(all);
      const room = mostPads - set.pads.length;
      const files = sounds.slice(0, Math.max(0, room));
      const left: string[] = [];
      if (sounds.length < all.length) left.push(`${all.length - sounds.length} of ${all.length} are no sound files.`);
      if (files.length < sounds.length)
        left.push(`A set takes ${mostPads} pads: ${sounds.length - files.length} were left out.`);
      if (files.length === 0) {
        tell("wrong", "Nothing was added.", left.join(" ") || "There was no file.");
        return;
      }
      stopped.current = false;
      const taken: StoredSound[] = [];
      try {
        for (const [i, file] of files.entries()) {
          if (stopped.current) break;
          setProgress({ done: i, all: files.length });
          try {
            taken.push(await takeIn(show.id, file));
          } catch (error) {
            // One that cannot be read takes nothing from the others.
            if (!(error instanceof Refusal) || error.status !== 422) throw error;
            left.push(error.message);
          }
        }
        if (taken.length > 0) {
          const now = toldShow(queries) ?? show;
          const pads = now.padSets.find((s) => s.id === set.id)?.pads ?? [];
          const laid = key ? [key] : [];
          const keys = [...laid, ...freeKeys(pads.map((p) => p.key).concat(laid), taken.length - laid.length)];
          const seen = { show: show.id, revision: now.revision };
          acceptShow(
            queries,
            await answer(
              api.POST("/api/shows/{show}/pad-sets/{set}/pads", {
                ...to(seen, { set: set.id }),
                body: {
                  pads: taken.map((s, i) => ({ sound: s.sound, name: s.name, key: keys[i] })),
                },
              }),
            ),
          );
        }
        const words = taken.length === 1 ? `${taken[0]?.name} is a pad now.` : `${taken.length} pads were added.`;
        if (left.length > 0) tell("wrong", taken.length > 0 ? words : "Nothing was added.", left.slice(0, 4).join(" "));
        else tell("done", words, "Arrange lets you lay them elsewhere; Level puts them beside the voice.");
      } catch (error) {
        refused(queries, error);
      } finally {
        setProgress(null);
      }
    },
    [queries],
  );
  const add = useCallback(
    (all: readonly File[], key?: string) => {
      turn.current = turn.current.then(() => addNow(all, key));
      return turn.current;
    },
    [addNow],
  );
  const stop = useCallback(() => {
    stopped.current = true;
  }, []);
  return { add, progress, stop };
}
