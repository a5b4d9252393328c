import type { CueAct, Show } from "@/core/api/client";
import type { MenuItem } from "@/shared/ui/Menu";
import { levelsNow } from "./cueWords";

/** Each pad of a show, to be played. */
export function padItems(show: Show, act: (pad: string, name: string) => void): MenuItem[] {
  return show.padSets.flatMap((set) =>
    set.pads.map((pad) => ({ words: `Play ${pad.name}`, group: set.name, onSelect: () => act(pad.id, pad.name) })),
  );
}

/** What a cue can do beside pads: levels, music, a mark. */
export function otherItems(show: Show, act: (act: CueAct, name: string) => void): MenuItem[] {
  const levels = (mix: string | undefined, name: string): MenuItem => ({
    words: `${mix === undefined ? "All levels" : `Levels in ${name}`}, as they are now`,
    group: "Recall",
    onSelect: () => act({ type: "levels", levels: levelsNow(show, mix), over: 0 }, `Levels of ${name}`.slice(0, 60)),
  });
  // Music first; anything that plays by itself can be begun and ended so.
  const music = show.sources
    .filter((s) => s.kind === "Music" || s.input?.type === "soundFile")
    .sort((a, b) => Number(b.kind === "Music") - Number(a.kind === "Music"));
  return [
    levels(undefined, "all"),
    ...show.mixes.map((m) => levels(m.id, m.name)),
    ...music.flatMap((s) =>
      [true, false].map((on) => ({
        words: `${on ? "Begin" : "End"} ${s.name}`,
        group: "Music",
        onSelect: () =>
          act(
            { type: "music", source: s.id, on, over: on ? 0 : 3000 },
            `${on ? "Begin" : "End"} ${s.name}`.slice(0, 60),
          ),
      })),
    ),
    { words: "Set a mark", group: "Other", onSelect: () => act({ type: "mark", words: "" }, "Mark") },
  ];
}
