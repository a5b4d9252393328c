import { expect, test } from "vitest";
import type { CueAct, Show } from "@/core/api/client";
import { actWords, beginWords, levelsNow } from "./cueWords";

const show = {
  padSets: [{ pads: [{ id: "b", name: "Bell" }] }],
  sources: [{ id: "s", name: "Song" }],
  mixes: ["Ears", "Viewers", "Guest"].map((name, i) => ({
    id: `m${i}`,
    name,
    sends: [{ source: "s", gain: -3, heard: true, muted: i === 1 }],
  })),
} as unknown as Show;
const level = (mix: string) => ({ mix, source: "s", gain: -3, heard: true, muted: false });

test.each<[CueAct, string]>([
  [{ type: "play", pad: "b" }, "Play Bell"],
  [{ type: "play", pad: "x" }, "Play a pad that is gone"],
  [{ type: "stop", group: "" }, "End all pads"],
  [{ type: "stop", group: "beds", fade: 2000 }, "End the group beds over 2.0 s"],
  [{ type: "stop", group: "", pad: "b", fade: 0 }, "End Bell over 0.0 s"],
  [{ type: "turn", pad: "b", gain: -12, over: 500 }, "Bell to −12.0 dB over 0.5 s"],
  [{ type: "turn", gain: "off", over: 0 }, "all pads to off"],
  [{ type: "levels", levels: [level("m1")], over: 2000 }, "Recall 1 level in Viewers over 2.0 s"],
  [{ type: "levels", levels: [level("m0"), level("m1")], over: 0 }, "Recall 2 levels in Ears and Viewers"],
  [{ type: "levels", levels: [level("m0"), level("m1"), level("m2")], over: 0 }, "Recall 3 levels in 3 mixes"],
  [{ type: "music", source: "s", on: true, over: 0 }, "Begin Song"],
  [{ type: "music", source: "x", on: false, over: 500 }, "End a source that is gone over 0.5 s"],
  [{ type: "mark", words: "Ads" }, "Mark “Ads”"],
  [{ type: "mark", words: "" }, "Set a mark"],
])("what a cue does is said in words: %j", (act, words) => expect(actWords(act, show)).toBe(words));

test("what begins a cue is said, where no hand does", () => {
  expect(beginWords({ begin: "ByHand", wait: 500 })).toBe("");
  expect(beginWords({ begin: "WithPrevious", wait: 500 })).toBe("0.5 s behind the beginning of the one before");
  expect(beginWords({ begin: "AfterPrevious", wait: 0 })).toBe("at once behind the end of the one before");
});

test("levels are taken as they are now, of all mixes or of one", () => {
  expect(levelsNow(show)).toHaveLength(3);
  expect(levelsNow(show, "m1")).toEqual([{ mix: "m1", source: "s", gain: -3, heard: true, muted: true }]);
});
