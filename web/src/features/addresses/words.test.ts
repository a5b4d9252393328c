import { expect, test } from "vitest";
import { formOf, readersWords } from "./words";

const reader = { form: "Wav" as const, since: "2026-11-28T18:00:00Z", seconds: 4, lostSeconds: 0 };

test("who reads an address is told in a sentence, and what was lost to the slow", () => {
  expect(readersWords([])).toBe("Nobody reads it now.");
  expect(readersWords([reader])).toBe("One program reads it now.");
  expect(readersWords([reader, { ...reader, lostSeconds: 2.25 }])).toBe(
    "2 programs read it now; 2.3 s were lost, since they were too slow for it.",
  );
});

test("an ending says what is read; one that nobody knows is told as it is", () => {
  expect(formOf("/live/abc.ogg").words).toBe("Opus");
  expect(formOf("/live/abc.new").words).toBe("new");
});
