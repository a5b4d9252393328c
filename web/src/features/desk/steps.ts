import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Gain, type NewMix } from "@/core/api/client";
import { acceptShow, sendOf, toldShow } from "@/core/commands/show";
import { changeKey, seenNow, to, useStep } from "@/core/commands/step";
import { tellWrong } from "@/core/notices/notices";

export function useRemoveSource() {
  return useStep((source: string, seen) =>
    answer(api.DELETE("/api/shows/{show}/sources/{source}", to(seen, { source }))),
  );
}

export function useAddMix() {
  return useStep((body: NewMix, seen) => answer(api.POST("/api/shows/{show}/mixes", { ...to(seen), body })));
}

export function useRemoveMix() {
  return useStep((mix: string, seen) => answer(api.DELETE("/api/shows/{show}/mixes/{mix}", to(seen, { mix }))));
}

export function usePlaySource() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (source: string) => {
      const { show } = await seenNow(queries);
      return answer(api.POST("/api/shows/{show}/sources/{source}/play", { params: { path: { show, source } } }));
    },
    onError: tellWrong,
  });
}

/** A sound file that becomes a source. */
export interface NewSound {
  file: File;
  name: string;
  loop: boolean;
}

export function useAddSound() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async ({ file, name, loop }: NewSound) => {
      const form = new FormData();
      form.set("file", file);
      form.set("name", name);
      form.set("loop", String(loop));
      return answer(
        api.POST("/api/shows/{show}/sources", {
          ...to(await seenNow(queries)),
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      );
    },
    onSuccess: (show) => acceptShow(queries, show),
  });
}

/** True where a send is stored so already, and nothing is on its way that would make it otherwise. */
export function isStored(queries: QueryClient, mix: string, source: string, gain: Gain): boolean {
  const of = toldShow(queries)?.mixes.find((m) => m.id === mix);
  return of !== undefined && sendOf(of, source).gain === gain && queries.isMutating({ mutationKey: changeKey }) === 0;
}

/** A gain within what may be set, as a number: "off" below the least that the Desk shows. */
export function allowedGain(value: number): Gain {
  if (value < -60) return "off";
  return Math.round(Math.min(value, 12) * 10) / 10;
}
