/** Keys that belong to what is focused, or to a screen: they stay what they are. */
export const fixedKeys: readonly { title: string; keys: readonly (readonly [string, string])[] }[] = [
  {
    title: "In a lane, and in the list of sources",
    keys: [
      ["Tab", "Into a lane or the list of sources, and past it"],
      ["↑ ↓", "From one to the next in it"],
      ["← →", "Along a line of it"],
      ["Enter", "Into the numbers of a source or a mix"],
    ],
  },
  {
    title: "On a marker of a lane",
    keys: [
      ["← →", "Its send by 0.5 dB; with Shift by 0.1 dB"],
      ["Page ↑ ↓", "Its send by 3 dB"],
      ["0", "Its send to 0 dB"],
      ["Home", "Off"],
      ["M", "Mute, in its place"],
      ["D", "Into the dock"],
      ["Enter", "Into its numbers; Escape leads back"],
      ["Space", "Its numbers beside it"],
    ],
  },
  {
    title: "On the map of paths",
    keys: [
      ["→ ←", "Along a track: from a source to who hears it, and back"],
      ["↑ ↓", "To the next source, track, mix or end"],
      ["Enter", "Into its numbers and its trace; Escape leads back"],
    ],
  },
  {
    title: "In Voice",
    keys: [
      ["→ ←", "Along the chain: processors, and their bypass"],
      ["Enter", "The processor large"],
      ["Shift → ←", "Moves it to another place"],
      ["Delete", "Takes it out; undo brings it back"],
      ["Arrows", "On a handle of a picture: what it stands for; with Shift finely"],
      ["Page ↑ ↓", "On a band: narrower, wider"],
      ["Enter", "On a band: another kind; with Shift the one before; Delete switches it off"],
      ["1 – 9", "On the bench: hear it without, or a variant; again: stop"],
      ["Ctrl Z", "On the bench: takes back what was done there"],
    ],
  },
  {
    title: "On Pads",
    keys: [
      ["a pad’s key", "plays it; with Shift for you alone"],
      ["Enter, Space", "plays the pad that is focused"],
      ["Backspace", "ends all pads that sound"],
    ],
  },
];
