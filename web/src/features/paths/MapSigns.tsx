import { CircleQuestionMark } from "lucide-react";
import { useState } from "react";
import { Button } from "@/shared/ui/Button";
import { SignsDialog } from "@/shared/ui/SignsDialog";

const signs: readonly [string, string][] = [
  ["A track", "One source’s sound on its way, from left to right: the thicker, the louder it is there right now."],
  ["Dashes", "Muted. With a cross: cut, since it would close a circle."],
  ["Dots", "What it comes from is away: a program that does not run, a device that is unplugged."],
  ["Shapes at a mix’s foot", "Sources that wait in its dock: this listener does not hear them."],
  ["A tick", "What the sound passes: a chain, and by how much that makes it late; a cable."],
  ["Two joined by a bow", "The same sound comes twice, so far apart."],
  ["A ring", "Sound goes round, and comes back by so much louder or softer each time."],
  ["A seal", "A promise about who hears what there: kept, broken, or not known yet."],
];

/** What the signs of the map mean, for whoever sees it for the first time. */
export function MapSigns() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button
        tone="quiet"
        square
        className="h-7"
        aria-label="How to read this"
        title="How to read this"
        icon={<CircleQuestionMark size={15} />}
        onClick={() => setOpen(true)}
      />
      <SignsDialog
        open={open}
        onOpenChange={setOpen}
        title="How to read the map"
        words="Sources on the left, mixes in the midst, who hears them on the right. Choose a name or a track: the rest steps back."
        signs={signs}
      />
    </>
  );
}
