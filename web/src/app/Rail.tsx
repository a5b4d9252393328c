import {
  AudioWaveform,
  Cable,
  Disc3,
  Keyboard,
  type LucideIcon,
  Moon,
  RadioTower,
  SlidersHorizontal,
  Sun,
  SunMoon,
  Waypoints,
} from "lucide-react";
import { goTo, linkTo, type Screen, usePlace } from "@/core/place/place";
import { type ThemeChoice, useTheme } from "@/shared/look/theme";
import { Hint } from "@/shared/ui/Hint";

const screens: { screen: Screen; words: string; icon: LucideIcon }[] = [
  { screen: "desk", words: "Desk", icon: SlidersHorizontal },
  { screen: "paths", words: "Paths", icon: Waypoints },
  { screen: "voice", words: "Voice", icon: AudioWaveform },
  { screen: "gear", words: "Gear", icon: Cable },
  { screen: "pads", words: "Pads", icon: Keyboard },
  { screen: "takes", words: "Takes", icon: Disc3 },
  { screen: "air", words: "On air", icon: RadioTower },
];

const themes: Record<ThemeChoice, { next: ThemeChoice; words: string; icon: LucideIcon }> = {
  system: { next: "dark", words: "Light or dark as the system says", icon: SunMoon },
  dark: { next: "light", words: "Dark", icon: Moon },
  light: { next: "system", words: "Light", icon: Sun },
};

/** Switches between the screens. */
export function Rail() {
  const screen = usePlace((p) => p.screen);
  const { choice, choose } = useTheme();
  const theme = themes[choice];
  return (
    <nav
      aria-label="Screens"
      className="flex shrink-0 border-line bg-surface max-md:order-last max-md:h-14 max-md:border-t md:w-17 md:flex-col md:border-r"
    >
      {screens.map(({ screen: to, words, icon: Icon }) => (
        <a
          key={to}
          href={linkTo(to)}
          aria-current={screen === to ? "page" : undefined}
          onClick={(e) => {
            // In a tab of its own, where the person wants it there.
            if (e.ctrlKey || e.metaKey || e.shiftKey) return;
            e.preventDefault();
            goTo(to);
          }}
          className={`flex flex-col items-center gap-1 px-2 py-2.5 text-xs -outline-offset-2 max-md:grow max-md:justify-center max-md:px-0.5 max-sm:text-[11px] ${screen === to ? "bg-raised font-semibold text-ink" : "text-quiet hover:text-ink"}`}
        >
          <Icon size={19} strokeWidth={screen === to ? 2.2 : 1.8} aria-hidden="true" />
          {words}
        </a>
      ))}
      <Hint text={`${theme.words}. Press for the next.`}>
        <button
          type="button"
          aria-label={`Theme: ${theme.words}`}
          onClick={() => choose(theme.next)}
          className="grid h-11 place-items-center text-quiet -outline-offset-2 hover:text-ink max-md:h-full max-md:w-9 md:mt-auto"
        >
          <theme.icon size={17} />
        </button>
      </Hint>
    </nav>
  );
}
