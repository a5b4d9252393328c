import type { Given } from "./microphones";

/** What a person reads about an input that this window ought to give, and what can be done; null: all is well. */
export const givenWords: Record<Given, { words: string; action: string | null; takeOver?: boolean } | null> = {
  joined: null,
  starting: { words: "Opening the microphone …", action: null },
  away: { words: "The server is away. The microphone goes on by itself once it is back.", action: null },
  ask: { words: "The browser wants to ask you before it gives the microphone.", action: "Let it in" },
  refused: {
    words: "This browser was told not to give the microphone. Allow it at the left of the address, then press here.",
    action: "Try again",
  },
  absent: { words: "Unplugged. Its place is silent; it goes on by itself once it is back.", action: "Look again" },
  busy: { words: "Another program holds the microphone. Close it there.", action: "Try again" },
  failed: { words: "The browser could not open the microphone.", action: "Try again" },
  held: {
    words: "Another window of this browser gives this microphone.",
    action: "Give it from here",
    takeOver: true,
  },
  taken: { words: "Another window took this microphone over.", action: "Take it back", takeOver: true },
  unshared: {
    words: "It is not shared now: its place is silent. The browser asks each time which tab, window or screen it is.",
    action: "Share it again",
  },
  asleep: { words: "The browser holds sound back. Press anywhere in the page.", action: null },
};
