import type { Cue, CueAct, Show } from "@/core/api/client";
import { decimal, gainText } from "@/shared/look/format";

/** What a cue does, in words. */
export function actWords(act: CueAct, show: Pick<Show, "padSets" | "sources" | "mixes">): string {
  const nameOf = (pad: string | null | undefined) =>
    pad ? (show.padSets.flatMap((s) => s.pads).find((p) => p.id === pad)?.name ?? "a pad that is gone") : "all pads";
  if ("levels" in act) {
    const mixes = show.mixes.filter((m) => act.levels.some((l) => l.mix === m.id)).map((m) => m.name);
    const where = mixes.length > 2 ? `${mixes.length} mixes` : mixes.join(" and ");
    const what = act.levels.length === 1 ? "1 level" : `${act.levels.length} levels`;
    return `Recall ${what}${where ? ` in ${where}` : ""}${over(act.over)}`;
  }
  if ("on" in act) {
    const name = show.sources.find((s) => s.id === act.source)?.name ?? "a source that is gone";
    return `${act.on ? "Begin" : "End"} ${name}${over(act.over)}`;
  }
  if ("words" in act) return act.words ? `Mark “${act.words}”` : "Set a mark";
  if ("gain" in act) return `${nameOf(act.pad)} to ${gainText(act.gain)}${over(act.over)}`;
  if (!("group" in act)) return `Play ${nameOf(act.pad)}`;
  const what = act.group ? `the group ${act.group}` : nameOf(act.pad);
  return typeof act.fade === "number" ? `End ${what} over ${seconds(act.fade)}` : `End ${what}`;
}

const over = (ms: number | undefined) => (ms ? ` over ${seconds(ms)}` : "");

/** All levels of a show's mixes, or of one, as they are now: to be recalled. */
export function levelsNow(show: Pick<Show, "mixes">, mix?: string) {
  return show.mixes
    .filter((m) => mix === undefined || m.id === mix)
    .flatMap((m) =>
      m.sends.map(({ source, gain, heard, muted }) => ({
        mix: m.id,
        source,
        gain,
        heard: heard ?? true,
        muted: muted ?? false,
      })),
    );
}

/** What begins a cue, in words; by hand: nothing is said. */
export function beginWords(cue: Pick<Cue, "begin" | "wait">): string {
  if (cue.begin === "ByHand") return "";
  const after = cue.wait > 0 ? `${seconds(cue.wait)} ` : "";
  return cue.begin === "WithPrevious"
    ? `${after || "at once "}behind the beginning of the one before`
    : `${after || "at once "}behind the end of the one before`;
}

export function seconds(ms: number): string {
  return `${decimal(ms / 1000)} s`;
}
