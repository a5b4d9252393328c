import type { Promises, Show, ShowPromise } from "@/core/api/client";

export type Kind = NonNullable<ShowPromise["kind"]>;

/** What can be promised, in words. */
export const kinds: readonly { kind: Kind; words: string; group: string }[] = [
  { kind: "reaches", words: "A source reaches a listener", group: "Who hears what" },
  { kind: "neverReaches", words: "A source never reaches a listener", group: "Who hears what" },
  { kind: "heardOnce", words: "A listener hears a source once", group: "Who hears what" },
  { kind: "neverHearsHimself", words: "Somebody never hears himself", group: "Who hears what" },
  { kind: "speechOverBed", words: "Speech is over what lies under it", group: "How loud" },
  { kind: "loudnessInRange", words: "A mix is in a range of loudness", group: "How loud" },
  { kind: "truePeakUnder", words: "A mix’s true peak stays under a ceiling", group: "How loud" },
  { kind: "ownTrack", words: "A source is on its own track, alone", group: "And" },
  { kind: "inStep", words: "A source is in step with the picture", group: "And" },
  { kind: "staysOnAir", words: "A stream stays on air", group: "And" },
  { kind: "defaultStays", words: "A default of the computer stays", group: "And" },
];

/** A first promise of a kind, with what was chosen before where it fits. The server gives it its id. */
export function newPromise(kind: Kind, promises: Promises, show: Show, before?: ShowPromise): ShowPromise {
  const id = before?.id ?? "new";
  const viewers = show.mixes.find((m) => m.purpose === "Viewers") ?? show.mixes[0];
  const source = before && "source" in before && before.source ? before.source : (show.sources[0]?.id ?? "");
  const listener = before && "listener" in before ? before.listener : `mix/${viewers?.id ?? ""}`;
  const mix = before && "mix" in before ? before.mix : (viewers?.id ?? "");
  const target = show.mixes.find((m) => m.id === mix)?.targetLufs ?? -18;
  switch (kind) {
    case "reaches":
    case "neverReaches":
      return { kind, id, source, listener };
    case "heardOnce":
      return { kind, id, listener };
    case "neverHearsHimself":
    case "ownTrack":
      return { kind, id, source };
    case "speechOverBed":
      return { kind, id, mix, atLeast: 6 };
    case "loudnessInRange":
      return { kind, id, mix, from: target - 3, to: target + 3 };
    case "truePeakUnder":
      return { kind, id, mix, ceiling: -0.9 };
    case "inStep":
      return { kind, id, source, listener, picture: 200, within: 40 };
    case "staysOnAir":
      return { kind, id, stream: show.streams[0]?.id ?? "" };
    case "defaultStays": {
      const first = promises.defaults[0];
      return { kind, id, role: first?.role ?? "Playback", end: first?.end ?? "device/none/out" };
    }
  }
}
