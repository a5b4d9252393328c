import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { answer, api, type Show } from "@/core/api/client";
import type { Things } from "@/core/hands/actions";
import { useGear } from "@/features/gear";

/** The screens, by what they are called. */
const screens = [
  { id: "desk", name: "the Desk" },
  { id: "paths", name: "Paths" },
  { id: "voice", name: "Voice" },
  { id: "gear", name: "Gear" },
  { id: "pads", name: "Pads" },
  { id: "takes", name: "Takes" },
  { id: "air", name: "On air" },
];

/** All that an action can be done to now. */
export function useThings(show: Show): Things {
  const computer = useGear().data;
  const shows = useQuery({ queryKey: ["shows"], queryFn: () => answer(api.GET("/api/shows")) }).data;
  return useMemo(
    () => ({
      pad: show.padSets.flatMap((s) => s.pads),
      set: show.padSets,
      cue: show.cues,
      mix: show.mixes,
      source: show.sources,
      app: computer?.apps.filter((a) => a.kind !== "Sender") ?? [],
      show: (shows ?? []).filter((s) => s.deletedAt === null && s.id !== show.id),
      screen: screens,
      place: show.mixes.slice(0, 9).map((m, i) => ({ id: `${i + 1}`, name: `${i + 1} (${m.name})` })),
    }),
    [show, computer, shows],
  );
}
