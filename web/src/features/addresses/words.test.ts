import { expect, test } from "vitest";
import type { Address } from "@/core/api/client";
import { formOf, readersWords, senderWords } from "./words";

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

const into = (sender: Address["sender"]) => senderWords({ sender } as Address);
const sender = {
  name: "Evening music",
  format: "MP3",
  channels: 2,
  sampleRate: 44_100,
  since: "2026-11-28T18:00:00Z",
  seconds: 4,
  waitingSeconds: 0.31,
  gaps: 0,
  lostSeconds: 0,
  isLate: false,
};

test("who sends into a cable is told with what it is, and what came too late", () => {
  expect(into(null)).toBe("Nobody sends into it now.");
  expect(into({ ...sender, format: null })).toBe("Evening music is there; nothing of it has been understood yet.");
  expect(into(sender)).toBe("Evening music sends MP3, 44.1 kHz, stereo: 0.3 s of it wait, nothing came too late.");
  expect(into({ ...sender, channels: 1, gaps: 2, lostSeconds: 1.5, isLate: true })).toBe(
    "Evening music sends MP3, 44.1 kHz, mono: nothing comes now, and the cable is silent; it came too late 2 times, 1.5 s were silent.",
  );
});
