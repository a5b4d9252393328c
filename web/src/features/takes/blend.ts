import type { Show, Take } from "@/core/api/client";

/** The track that is the blend of a take: its only mix; of several the one that is made to be kept, or that viewers hear, or the first. */
export function blendOf(take: Pick<Take, "tracks">, show: Pick<Show, "mixes"> | undefined) {
  const mixes = take.tracks.filter((t) => t.of === "mix");
  const withPurpose = (purpose: string) =>
    mixes.find((t) => show?.mixes.some((m) => t.point === `mix/${m.id}` && m.purpose === purpose));
  return mixes.length > 1 ? (withPurpose("Recording") ?? withPurpose("Viewers") ?? mixes[0]) : mixes[0];
}

/** What is listened to: the blend, all that is no mix, or everything at once. */
export type Heard = "blend" | "apart" | "all";

/** Which tracks are alone then; none: all are heard. */
export function aloneOf(take: Pick<Take, "tracks">, blend: { id: string } | undefined, heard: Heard): Set<string> {
  if (heard === "blend" && blend) return new Set([blend.id]);
  if (heard === "apart") return new Set(take.tracks.filter((t) => t.of !== "mix").map((t) => t.id));
  return new Set();
}

/** Which of these it is, or null: somebody has chosen tracks by hand. */
export function heardOf(
  take: Pick<Take, "tracks">,
  blend: { id: string } | undefined,
  alone: ReadonlySet<string>,
): Heard | null {
  const same = (other: ReadonlySet<string>) => other.size === alone.size && [...other].every((id) => alone.has(id));
  return (["blend", "apart", "all"] as const).find((heard) => same(aloneOf(take, blend, heard))) ?? null;
}
