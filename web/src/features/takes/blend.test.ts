import { expect, test } from "vitest";
import type { Show, Take } from "@/core/api/client";
import { aloneOf, blendOf, heardOf } from "./blend";

const track = (id: string, of: string) => ({ id, of, point: `${of}/${id}` });
const takeOf = (...tracks: ReturnType<typeof track>[]) => ({ tracks }) as unknown as Take;
const showOf = (...mixes: [id: string, purpose: string][]) =>
  ({ mixes: mixes.map(([id, purpose]) => ({ id, purpose })) }) as unknown as Show;

test("the blend is the only mix, or the one that is kept, or that viewers hear, or the first, or none", () => {
  const [ears, viewers, kept] = [track("ears", "mix"), track("viewers", "mix"), track("kept", "mix")];
  const mic = track("mic", "source");
  const show = showOf(["ears", "Ears"], ["viewers", "Viewers"], ["kept", "Recording"]);
  expect(blendOf(takeOf(mic, ears), show)?.id).toBe("ears");
  expect(blendOf(takeOf(ears, viewers, kept), show)?.id).toBe("kept");
  expect(blendOf(takeOf(ears, viewers), show)?.id).toBe("viewers");
  expect(blendOf(takeOf(ears, viewers), undefined)?.id).toBe("ears");
  expect(blendOf(takeOf(mic), show)).toBeUndefined();
});

test("what is heard is the blend, all that is no mix, or everything; what is chosen by hand is none of these", () => {
  const take = takeOf(track("b", "mix"), track("m", "mix"), track("one", "source"), track("two", "cable"));
  const blend = take.tracks[0];
  expect([...aloneOf(take, blend, "blend")]).toEqual(["b"]);
  expect([...aloneOf(take, blend, "apart")]).toEqual(["one", "two"]);
  expect(aloneOf(take, blend, "all").size).toBe(0);
  for (const heard of ["blend", "apart", "all"] as const)
    expect(heardOf(take, blend, aloneOf(take, blend, heard))).toBe(heard);
  expect(heardOf(take, blend, new Set(["one"]))).toBeNull();
  // Of a take without a mix, nothing is left out.
  const apart = takeOf(track("one", "source"));
  expect(aloneOf(apart, undefined, "blend").size).toBe(0);
});
