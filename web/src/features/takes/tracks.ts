import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api, type PlannedTrack, type Show, type TakeForm } from "@/core/api/client";
import { useChange } from "@/core/commands/change";
import { to, useStep } from "@/core/commands/step";

/** What files can be written as, in words. */
export const forms: readonly { form: TakeForm; words: string; hint: string }[] = [
  { form: "Wav24", words: "WAV, 24 bit", hint: "What every editing program opens" },
  { form: "Wav16", words: "WAV, 16 bit", hint: "For older programs" },
  { form: "Wav32", words: "WAV, 32-bit float", hint: "Keeps what is beyond full scale too" },
  { form: "Flac", words: "FLAC", hint: "The same samples as WAV of 24 bit, in less room" },
  { form: "Mp3", words: "MP3", hint: "Small, with loss" },
  { form: "Opus", words: "Opus", hint: "Smallest, with loss" },
];

/** A form in words. */
export function formWords(form: string | null | undefined): string {
  return forms.find((f) => f.form === (form ?? "Wav24"))?.words ?? "";
}

/** What a take would be if it began now, as the server tells. */
export function useTakePlan(show: Show) {
  return useQuery({
    // By revision, not by what is foreseen: an answer that was asked for before a step had arrived is not that step's.
    queryKey: ["take-plan", show.id, show.revision],
    queryFn: () => answer(api.GET("/api/shows/{show}/take-plan", { params: { path: { show: show.id } } })),
    placeholderData: keepPreviousData,
    refetchInterval: 15_000,
    gcTime: 10_000,
  });
}

export function useAddTrack() {
  return useStep((takes: string, seen) =>
    answer(api.POST("/api/shows/{show}/tracks", { ...to(seen), body: { takes } })),
  );
}

export function useRemoveTrack() {
  return useStep((track: string, seen) => answer(api.DELETE("/api/shows/{show}/tracks/{track}", to(seen, { track }))));
}

export function useMoveTrack() {
  return useStep(({ track, index }: { track: string; index: number }, seen) =>
    answer(api.PATCH("/api/shows/{show}/tracks/{track}", { ...to(seen, { track }), body: { index } })),
  );
}

/** The whole plan: what is offered, or none. */
export function usePlan() {
  return useStep((plan: "offered" | "none", seen) =>
    plan === "offered"
      ? answer(api.POST("/api/shows/{show}/tracks/proposed", to(seen)))
      : answer(api.DELETE("/api/shows/{show}/tracks", to(seen))),
  );
}

export type TrackChange = Partial<Pick<PlannedTrack, "name" | "takes" | "width" | "armed" | "form" | "fileName">>;

export function useChangeTrack() {
  return useChange<{ track: string; change: TrackChange }>({
    of: ({ track }) => `track/${track}`,
    send: ({ track, change: { form, fileName, ...change } }, seen) =>
      answer(
        api.PATCH("/api/shows/{show}/tracks/{track}", {
          ...to(seen, { track }),
          body: {
            ...change,
            ...(form === undefined ? {} : form === null ? { formOfShow: true } : { form }),
            ...(fileName === undefined ? {} : { fileName: fileName ?? "" }),
          },
        }),
      ),
    foresee: (show, { track, change }) => ({
      ...show,
      tracks: show.tracks.map((t) => (t.id === track ? { ...t, ...change } : t)),
    }),
    tell: (show, { track, change }) => {
      const found = show.tracks.find((t) => t.id === track);
      return {
        what: `The track ${found?.name ?? "that is gone"}`,
        value: found
          ? Object.keys(change)
              .map((key) => String(found[key as keyof PlannedTrack] ?? "as the show says"))
              .join(", ")
          : "gone",
      };
    },
  });
}

export function useSetRecording() {
  return useChange<{ form: TakeForm; before: number }>({
    of: () => "recording",
    send: (recording, seen) => answer(api.PUT("/api/shows/{show}/recording", { ...to(seen), body: { ...recording } })),
    foresee: (show, recording) => ({ ...show, recording: { ...show.recording, ...recording } }),
    tell: (show) => ({
      what: "What takes are written as",
      value: `${formWords(show.recording.form)}, ${show.recording.before} s from before`,
    }),
  });
}
