import {
  AppWindow,
  AudioLines,
  Bell,
  Drum,
  Gamepad2,
  Guitar,
  Headset,
  LayoutGrid,
  type LucideIcon,
  MessagesSquare,
  MicVocal,
  Monitor,
  Music,
  PhoneCall,
  Piano,
  Radio,
  Star,
  Tv,
  User,
  Users,
  Waves,
} from "lucide-react";
import type { Source } from "@/core/api/client";

/** Outlines of the shapes that tell sources apart, in a square from −10 to 10. Index: the source's look. */
export const shapes: readonly string[] = [
  "M0-9A9 9 0 1 1 0 9A9 9 0 1 1 0-9Z",
  "M0-10L10 0L0 10L-10 0Z",
  "M0-9L9.5 8H-9.5Z",
  "M-8-8H8V8H-8Z",
  "M0-10L9.5-3.1L5.9 8.1H-5.9L-9.5-3.1Z",
  "M0-10L2.6-2.6L10 0L2.6 2.6L0 10L-2.6 2.6L-10 0L-2.6-2.6Z",
  "M-5-8.7H5L10 0L5 8.7H-5L-10 0Z",
  "M-3.2-9H3.2V-3.2H9V3.2H3.2V9H-3.2V3.2H-9V-3.2H-3.2Z",
  "M-9.5-8H9.5L0 9Z",
  "M-10-5H10V5H-10Z",
  "M5-9A9 9 0 1 0 5 9A11 11 0 0 1 5-9Z",
  "M-9 8V-8L9 0Z",
];

/** The colours, by their number in the theme. */
export const sourceColors: readonly number[] = shapes.map((_, i) => i);

export const shapeNames: readonly string[] = [
  "disc",
  "diamond",
  "triangle",
  "square",
  "pentagon",
  "four-pointed star",
  "hexagon",
  "plus",
  "falling triangle",
  "bar",
  "crescent",
  "pennant",
];

const kinds: Record<Source["kind"], { icon: LucideIcon; words: string }> = {
  Microphone: { icon: MicVocal, words: "microphone" },
  Instrument: { icon: Guitar, words: "instrument" },
  App: { icon: AppWindow, words: "app" },
  Game: { icon: Gamepad2, words: "game" },
  Call: { icon: PhoneCall, words: "call" },
  Chat: { icon: MessagesSquare, words: "private chat" },
  Music: { icon: Music, words: "music" },
  Pads: { icon: LayoutGrid, words: "pads" },
  File: { icon: AudioLines, words: "sound file" },
  CatchAll: { icon: Monitor, words: "everything else" },
};

type IconName = NonNullable<Source["look"]["icon"]>;

const iconOfName: Record<IconName, LucideIcon> = {
  Microphone: MicVocal,
  Headset: Headset,
  Person: User,
  People: Users,
  Guitar: Guitar,
  Piano: Piano,
  Drum: Drum,
  Waves: Waves,
  Window: AppWindow,
  Game: Gamepad2,
  Phone: PhoneCall,
  Chat: MessagesSquare,
  Music: Music,
  Pads: LayoutGrid,
  File: AudioLines,
  Computer: Monitor,
  Bell: Bell,
  Radio: Radio,
  Television: Tv,
  Star: Star,
};

/** The icons to choose from. */
export const icons = Object.entries(iconOfName) as [IconName, LucideIcon][];

/** A source's icon: its own, or that of its kind. */
export function iconOf(source: Source): LucideIcon {
  return source.look.icon ? iconOfName[source.look.icon] : kinds[source.kind].icon;
}

export function kindOf(source: Source) {
  return kinds[source.kind];
}

/** A source's colour, as the theme has it. */
export function colorOf(source: Pick<Source, "look">): string {
  return `var(--source-${source.look.color})`;
}

/** A source's sign: its shape in its colour. Decorative: its name stands beside it. */
export function SourceSign({ source, size = 14 }: { source: Pick<Source, "look">; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-11 -11 22 22" aria-hidden="true" className="shrink-0">
      <path d={shapes[source.look.shape] ?? shapes[0]} fill={colorOf(source)} />
    </svg>
  );
}
