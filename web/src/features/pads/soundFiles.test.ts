import { expect, test } from "vitest";
import { soundsOf } from "./soundFiles";

const file = (name: string, type = "") => new File([], name, { type });

test("of what comes together sounds are taken, in the order of their names", () => {
  const files = [
    file("10 end.wav"),
    file("notes.txt", "text/plain"),
    file("2 middle.MP3"),
    file("1 begin", "audio/ogg"),
  ];
  expect(soundsOf(files).map((f) => f.name)).toEqual(["1 begin", "2 middle.MP3", "10 end.wav"]);
});
