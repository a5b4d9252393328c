import { useMutation, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { askAnew } from "@/core/api/anew";
import { answer, api, lasting, type Pad, type Show, type StoredSound } from "@/core/api/client";
import { useChange } from "@/core/commands/change";
import { acceptShow, type Seen } from "@/core/commands/show";
import { refused, seenNow, to, useStep } from "@/core/commands/step";
import { tellWrong } from "@/core/notices/notices";
import { on, onMissed } from "@/core/realtime/hub";

const padsKey = (show: string) => ["pads", show];
let follows = false;

/** Which set is at hand, and which pads a press does not play. */
export function useHand(show: Show) {
  const queries = useQueryClient();
  useEffect(() => {
    if (follows) return;
    follows = true;
    const anew = () => void askAnew(queries, ["pads"]);
    on("PadsChanged", anew);
    onMissed(anew);
  }, [queries]);
  // What is silent follows from the sets and the sources; asked before a step had arrived, it would be what was before it.
  const query = useQuery({
    queryKey: [...padsKey(show.id), show.revision],
    queryFn: () => answer(api.GET("/api/shows/{show}/pads", { params: { path: { show: show.id } } })),
    placeholderData: (before) => before,
    gcTime: 10_000,
  });
  const set = show.padSets.find((s) => s.id === query.data?.atHand) ?? show.padSets[0] ?? null;
  return { set, silent: new Map(query.data?.silent.map((s) => [s.pad, s.why]) ?? []) };
}

/** Takes another set in hand, in every window. */
export function useTakeSet(show: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (set: string) =>
      answer(api.PUT("/api/shows/{show}/pads/at-hand", { params: { path: { show } }, body: { set } })),
    onSettled: () => void askAnew(queries, ["pads"]),
    onError: tellWrong,
  });
}

const soundQuery = (sound: string) => ({
  queryKey: ["pad-sound", sound],
  queryFn: () => answer(api.GET("/api/pad-sounds/{sound}", { params: { path: { sound } } })),
});

/** The sounds of some pads, by their address; those that are not known yet, or gone, are left out. */
export function useSounds(pads: readonly Pad[]): ReadonlyMap<string, StoredSound> {
  const addresses = [...new Set(pads.map((p) => p.sound))];
  const found = useQueries({ queries: addresses.map(soundQuery) });
  return new Map(found.flatMap((q) => (q.data ? [[q.data.sound, q.data] as const] : [])));
}

/** How loud a pad is beside the voice, listener by listener. */
export function useLoudness(show: Show, pad: Pad) {
  return useQuery({
    queryKey: ["pad-loudness", show.id, show.revision, pad.id],
    queryFn: () =>
      answer(
        api.GET("/api/shows/{show}/pads/{pad}/loudness", {
          params: { path: { show: show.id, pad: pad.id }, query: {} },
        }),
      ),
    placeholderData: (before) => (before?.pad === pad.id ? before : undefined),
    gcTime: 5_000,
  }).data;
}

export function useAddSet() {
  return useStep((name: string | undefined, seen) =>
    answer(api.POST("/api/shows/{show}/pad-sets", { ...to(seen), body: { name } })),
  );
}

export function useChangeSet() {
  return useStep(({ set, name }: { set: string; name: string }, seen) =>
    answer(api.PATCH("/api/shows/{show}/pad-sets/{set}", { ...to(seen, { set }), body: { name } })),
  );
}

export function useRemoveSet() {
  return useStep((set: string, seen) => answer(api.DELETE("/api/shows/{show}/pad-sets/{set}", to(seen, { set }))));
}

export function useRemovePad() {
  return useStep((pad: string, seen) => answer(api.DELETE("/api/shows/{show}/pads/{pad}", to(seen, { pad }))));
}

/** Puts a pad onto another key, or into another set. */
export function useMovePad() {
  return useStep(({ pad, set, index, key }: { pad: string; set: string; index?: number; key?: string }, seen) =>
    answer(api.PUT("/api/shows/{show}/pads/{pad}/place", { ...to(seen, { pad }), body: { set, index, key } })),
  );
}

/** Adds a source through which pads are heard. */
export function useAddPadsSource() {
  return useStep<void>((_, seen) =>
    answer(
      api.POST("/api/shows/{show}/sources/taken", { ...to(seen), body: { input: { type: "pads" }, kind: "Pads" } }),
    ),
  );
}

export type Wish = "AsLoudAsTheVoice" | "ABitUnder" | "AJingle";

/** A step that is long in the making: meanwhile others of this window are taken, and the show that was meant is that of the press. */
function useLongStep<T>(send: (change: T, seen: Seen) => Promise<Show>) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (change: T) => send(change, await seenNow(queries)),
    onSuccess: (show) => acceptShow(queries, show),
    onError: (error) => refused(queries, error),
  });
}

/** Puts pads where they are wished beside the voice. */
export function useLevel() {
  return useLongStep(({ set, wish, pads }: { set: string; wish: Wish; pads?: string[] }, seen) =>
    answer(api.PUT("/api/shows/{show}/pad-sets/{set}/levels", { ...to(seen, { set }), body: { wish, pads } })),
  );
}

/** Makes a pad of what was just heard. */
export function useAddHeard() {
  return useLongStep(
    ({ set, ...body }: { set: string; of: string; seconds?: number; from?: number; key?: string }, seen) =>
      answer(api.POST("/api/shows/{show}/pad-sets/{set}/heard", { ...to(seen, { set }), body })),
  );
}

export type PadChange = Partial<Omit<Pad, "id" | "sound">>;

/** Changes a pad: shown at once, taken back with words where it is refused. */
export function useChangePad() {
  return useChange<{ pad: string; change: PadChange }>({
    of: ({ pad }) => `pad/${pad}`,
    send: ({ pad, change }, seen) =>
      answer(api.PATCH("/api/shows/{show}/pads/{pad}", { ...to(seen, { pad }), body: change, ...lasting })),
    foresee: (show, { pad, change }) => ({
      ...show,
      padSets: show.padSets.map((s) =>
        s.pads.some((p) => p.id === pad)
          ? { ...s, pads: s.pads.map((p) => (p.id === pad ? { ...p, ...change } : p)) }
          : s,
      ),
    }),
    tell: (show, { pad, change }) => {
      const found = show.padSets.flatMap((s) => s.pads).find((p) => p.id === pad);
      return {
        what: `The pad ${found?.name ?? "that is gone"}`,
        value: found
          ? Object.keys(change)
              .map((key) => `${key} ${JSON.stringify(found[key as keyof Pad])}`)
              .join(", ")
          : "gone",
      };
    },
  });
}

/** Ends all pads that sound, each with its fade. */
export function useStopPads() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async () => {
      const { show } = await seenNow(queries);
      return answer(api.POST("/api/shows/{show}/pads/stop", { params: { path: { show } }, body: {} }));
    },
    onError: tellWrong,
  });
}

/** Adds a set from its ZIP. */
export function useReadSet() {
  return useStep(async (file: File, seen) => {
    const form = new FormData();
    form.set("file", file);
    return answer(
      api.POST("/api/shows/{show}/pad-sets/file", {
        ...to(seen),
        body: form as never,
        bodySerializer: (body) => body as unknown as FormData,
      }),
    );
  });
}

/** Takes in one sound file, for the pads of a show. */
export async function takeIn(show: string, file: File): Promise<StoredSound> {
  const form = new FormData();
  form.set("file", file);
  return answer(
    api.POST("/api/shows/{show}/pad-sounds", {
      params: { path: { show } },
      body: form as never,
      bodySerializer: (body) => body as unknown as FormData,
    }),
  );
}
