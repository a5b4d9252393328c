import { expect, test } from "vitest";
import { findCalls, numberIn } from "./find";

const things = {
  mix: [
    { id: "v", name: "Viewers" },
    { id: "g", name: "Guest hears" },
  ],
  source: [
    { id: "m", name: "Record shelf" },
    { id: "x", name: "Möwen 2" },
  ],
  screen: [{ id: "gear", name: "Gear" }],
};
const found = (text: string) => findCalls(text, things, 50).map((c) => c.address);

test("all words typed must be there, in any order, whatever the case and the accents", () => {
  expect(found("viewers dock shelf")).toEqual(["mix/v/source/m/dock"]);
  expect(found("MOWEN mute guest")).toEqual(["mix/g/source/x/mute"]);
  expect(found("nothing like this")).toEqual([]);
});

test("what begins with the words typed comes before what holds them somewhere", () => {
  expect(found("gear")[0]).toBe("go/gear");
});

test("a number at the end is the level, and a number in a name stays one", () => {
  expect(found("level shelf viewers -6")[0]).toBe("mix/v/source/m/level");
  expect(found("level mowen 2 viewers -6 dB")[0]).toBe("mix/v/source/x/level");
  expect(found("mute mowen 2")).toEqual(["mix/v/source/x/mute", "mix/g/source/x/mute"]);
});

test.each([
  ["level shelf −6,5 dB", "-6.5"],
  ["step +3", "+3"],
  ["mute möwen", null],
  ["-6", "-6"],
])("the number in “%s”", (text, number) => expect(numberIn(text)).toBe(number));
