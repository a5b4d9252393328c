import { expect, test } from "vitest";
import { factsWords, placeWords, rateWords, readPort } from "./words";

const server = {
  kind: "Put" as const,
  host: "radio.example",
  port: 8000,
  path: "/live",
  user: "source",
  secure: false,
};

test("where a stream goes is said as its kind of server has it", () => {
  expect(placeWords(server)).toBe("radio.example, port 8000, /live");
  expect(placeWords({ ...server, kind: "FirstLine", path: "" })).toBe("radio.example, port 8000");
  expect(placeWords({ ...server, kind: "FirstLine", path: "2" })).toBe("radio.example, port 8000, stream 2");
});

test("what a stream has done is said with its gaps, and nothing before anybody heard it", () => {
  const facts = { seconds: 65, bytes: 2_340_000, waitingSeconds: 0, droppedSeconds: 0, gapCount: 0, gaps: [] };
  expect(factsWords(facts)).toBe("");
  expect(factsWords({ ...facts, since: "2026-11-28T18:00:00Z" })).toBe("1:05 sent · 2.3 MB");
  expect(
    factsWords({
      ...facts,
      since: "2026-11-28T18:00:00Z",
      gapCount: 2,
      gaps: [{ seconds: 3.25 }, {}],
      waitingSeconds: 4,
      droppedSeconds: 1.5,
    }),
  ).toBe("1:05 sent · 2.3 MB · 2 gaps, it lasts · 4.0 s wait to be sent · 1.5 s were left out");
});

test("a sample rate and a port are read as a person writes them", () => {
  expect([48_000, 44_100, 22_050].map(rateWords)).toEqual(["48 kHz", "44.1 kHz", "22.05 kHz"]);
  expect(["8000", " 80 ", "0", "65536", "8e3", ""].map(readPort)).toEqual([8000, 80, null, null, null, null]);
});
