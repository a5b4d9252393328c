import { SignsDialog } from "@/shared/ui/SignsDialog";

const signs: readonly [string, string][] = [
  [
    "A source’s sign",
    "Where the source usually sounds for this listener: its own measured loudness plus its send. Drag it.",
  ],
  ["The fading bar", "How loud it is right now, over the last 0.4 s. No bar: it is silent at the moment."],
  ["The small tick", "Where the sign would stand with a send of 0 dB."],
  ["The shaded band", "The loudness that this listener should get altogether."],
  ["The ▲ at the foot", "How loud everything together is, over the last 3 s."],
  ["The dock", "What this listener does not hear at all. Press it, or drag it onto the lane, to let it be heard."],
];

/** What the signs of a lane mean, for whoever sees one for the first time. */
export function LaneSigns({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <SignsDialog
      open={open}
      onOpenChange={onOpenChange}
      title="How to read a lane"
      words="Each lane is one listener. From left to right it gets louder, on the same scale in every lane."
      signs={signs}
    />
  );
}
