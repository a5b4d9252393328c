import type { Gear, Show } from "@/core/api/client";

/** Something that a track can take. */
export interface Takeable {
  point: string;
  /** In the middle of a sentence. */
  words: string;
  group: string;
}

/** All that a track of a show can take, in groups. */
export function takeable(show: Show, gear: Gear | undefined): Takeable[] {
  return [
    ...show.sources.map((s) => ({ point: `source/${s.id}`, words: `${s.name} after its chain`, group: "Sources" })),
    ...show.sources.map((s) => ({
      point: `source/${s.id}/before`,
      words: `${s.name} before its chain`,
      group: "Sources as they come in",
    })),
    ...show.mixes.map((m) => ({ point: `mix/${m.id}`, words: `the mix ${m.name}`, group: "Mixes" })),
    ...show.cables.map((c) => ({ point: `cable/${c.id}`, words: `the cable ${c.name}`, group: "Cables" })),
    ...(gear?.apps ?? []).flatMap((a) =>
      a.ports
        .filter((p) => p.side === "In")
        .map((p) => ({
          point: `app/${a.id}/${p.id}`,
          words: `what ${a.name} hears, ${p.name}`,
          group: "What programs hear",
        })),
    ),
  ];
}

/** What a track takes, in words; of something that is not there, that. */
export function takenWords(point: string, all: readonly Takeable[]): string {
  return all.find((t) => t.point === point)?.words ?? "something that is not there";
}
