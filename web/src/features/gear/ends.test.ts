import { describe, expect, it } from "vitest";
import type { Gear, GearApp, GearPort } from "@/core/api/client";
import { choiceWords, endOptions, sameChoice } from "./ends";

const gear = {
  roles: [
    { role: "Playback", end: "device/headset/out", name: "Headset", isThere: true },
    { role: "Recording", end: "device/desk/in", name: "Desk", isThere: true },
    { role: "CallsPlayback", end: "cable/c", name: "Game cable", isThere: true },
    { role: "CallsRecording", end: null, name: "nothing", isThere: false },
  ],
  ends: [
    {
      end: "device/headset/out",
      name: "Headset",
      into: "Headset",
      outOf: "Headset",
      plays: true,
      sounds: false,
      channels: 2,
      why: null,
    },
    {
      end: "device/desk/out",
      name: "Desk",
      into: "Desk",
      outOf: "Desk",
      plays: true,
      sounds: false,
      channels: 4,
      why: "unplugged",
    },
    {
      end: "device/desk/in",
      name: "Desk",
      into: "Desk",
      outOf: "Desk",
      plays: false,
      sounds: true,
      channels: 3,
      why: null,
    },
    {
      end: "cable/c",
      name: "Game cable",
      into: "Into Game cable",
      outOf: "Out of Game cable",
      plays: true,
      sounds: true,
      channels: 4,
      why: null,
    },
  ],
} as unknown as Gear;

const app = { unseen: ["cable/c"] } as unknown as GearApp;
const port = (side: "In" | "Out", channels: number) => ({ side, channels }) as GearPort;

describe("what a port can be set to", () => {
  it("is the defaults, nothing, cables and devices, each channel pair of a wide one by itself", () => {
    expect(endOptions(gear, app, port("Out", 2)).map((o) => o.words)).toEqual([
      "the default: Headset",
      "the default for calls: Game cable",
      "nothing",
      "Into Game cable, 1 and 2",
      "Into Game cable, 3 and 4",
      "Headset",
      "Desk, 1 and 2",
      "Desk, 3 and 4",
    ]);
  });

  it("says why not, and where a restart is needed", () => {
    const options = endOptions(gear, app, port("Out", 2));
    expect(options.find((o) => o.words === "Desk, 1 and 2")?.why).toBe("unplugged");
    expect(options.find((o) => o.words === "Into Game cable, 1 and 2")?.restart).toBe(true);
    expect(options.find((o) => o.words === "Headset")?.restart).toBe(false);
  });

  it("is one channel for a mono input, and all of them for one that has room", () => {
    const words = (channels: number) => endOptions(gear, app, port("In", channels)).map((o) => o.words);
    expect(words(1).filter((w) => w.startsWith("Desk"))).toEqual(["Desk, 1", "Desk, 2", "Desk, 3"]);
    expect(words(4).filter((w) => w.startsWith("Out of"))).toEqual(["Out of Game cable"]);
  });

  it("is told in words, gone or not, and known again", () => {
    expect(choiceWords(gear, "In", { type: "default", calls: true })).toBe("the default for calls: nothing");
    expect(choiceWords(gear, "Out", { type: "end", end: "cable/none" })).toBe("something that is gone");
    expect(sameChoice({ type: "default", calls: true }, { type: "default", calls: true })).toBe(true);
    expect(sameChoice({ type: "end", end: "a" }, { type: "end", end: "a", channels: { left: 0, right: 1 } })).toBe(
      false,
    );
  });
});
