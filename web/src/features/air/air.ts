import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type AirStream, answer, api, type StreamChange } from "@/core/api/client";
import { useChange } from "@/core/commands/change";
import { useOneAtATime } from "@/core/commands/once";
import { to, useStep } from "@/core/commands/step";
import { tellWrong } from "@/core/notices/notices";

const airKey = ["air"] as const;
const stationKey = ["station"] as const;

/** A stream stands otherwise without any step of the show: it is looked again, milliseconds. */
const lookAgain = 1_000;

/** How the streams stand. */
export function useAir() {
  return useQuery({ queryKey: airKey, queryFn: () => answer(api.GET("/api/air")), refetchInterval: lookAgain });
}

/** What listeners of a stream get, held against its mix again and again while somebody hears it. */
export function useHeardBack(stream: string, wanted: boolean) {
  return useQuery({
    queryKey: ["air-heard", stream],
    queryFn: ({ signal }) => answer(api.POST("/api/air/{stream}/heard", { ...at(stream), signal })),
    enabled: wanted,
    refetchInterval: 15_000,
    retry: false,
    gcTime: 0,
  });
}

/** What is looked at before a start, again and again while somebody may start. */
export function useAirChecks(wanted: boolean) {
  return useQuery({
    queryKey: ["air-checks"],
    queryFn: () => answer(api.GET("/api/air/checks", { params: { query: {} } })),
    enabled: wanted,
    refetchInterval: 4_000,
    placeholderData: keepPreviousData,
  }).data;
}

/**
 * Goes on air with some streams, or off with them, and with the take. All of one press, whatever becomes of the screen meanwhile; what cannot be
 * recorded is told before anything is on air.
 */
export function useAllOnOff() {
  const queries = useQueryClient();
  const { begin, end } = useOneAtATime();
  const { mutate, isPending } = useMutation({
    mutationFn: async ({ streams, on, take }: { streams: readonly string[]; on: boolean; take: boolean }) => {
      if (take && on) await answer(api.POST("/api/takes", { body: {} }));
      const all = await Promise.allSettled(
        streams.map((stream) =>
          answer(on ? api.POST("/api/air/{stream}/start", at(stream)) : api.POST("/api/air/{stream}/stop", at(stream))),
        ),
      );
      if (take && !on) await answer(api.POST("/api/takes/current/stop"));
      const failed = all.find((one) => one.status === "rejected");
      if (failed) throw failed.reason;
    },
    onError: tellWrong,
    onSettled: () => {
      end();
      return queries.invalidateQueries({ queryKey: airKey });
    },
  });
  return {
    mutate: (what: { streams: readonly string[]; on: boolean; take: boolean }) => begin(() => mutate(what)),
    isPending,
  };
}

/** What streams can be encoded as at a sample rate. */
export function useStreamForms(sampleRate: number, channels: number) {
  return useQuery({
    queryKey: ["stream-forms", sampleRate, channels],
    queryFn: () => answer(api.GET("/api/air/forms", { params: { query: { sampleRate, channels } } })),
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** Adds a stream, with the password of its server where that is known: one press, whatever is pressed next. */
export function useAddStream() {
  return useStep(
    async (
      { password, ...wanted }: { mix: string; name?: string; server?: AirStream["server"]; password?: string },
      seen,
    ) => {
      const show = await answer(api.POST("/api/shows/{show}/streams", { ...to(seen), body: wanted }));
      const { server } = wanted;
      const made = show.streams.findLast((s) => s.server.host === server?.host && s.server.port === server.port);
      if (password !== undefined && made)
        await answer(api.PUT("/api/air/{stream}/password", { ...at(made.id), body: { password } }));
      return show;
    },
  );
}

export function useRemoveStream() {
  return useStep((stream: string, seen) =>
    answer(api.DELETE("/api/shows/{show}/streams/{stream}", to(seen, { stream }))),
  );
}

export function useChangeStream() {
  return useChange<{ stream: string; change: StreamChange }>({
    of: ({ stream }) => `stream/${stream}`,
    send: ({ stream, change }, seen) =>
      answer(api.PATCH("/api/shows/{show}/streams/{stream}", { ...to(seen, { stream }), body: change })),
    foresee: (show, { stream, change: { song, ...change } }) => ({
      ...show,
      streams: show.streams.map((s) =>
        s.id === stream ? ({ ...s, ...change, ...(song ? { songFrom: song.app ?? null } : {}) } as AirStream) : s,
      ),
    }),
    tell: (show, { stream, change }) => {
      const found = show.streams.find((s) => s.id === stream);
      return {
        what: `The stream ${found?.name ?? "that is gone"}`,
        value: found
          ? Object.keys(change)
              .map((key) =>
                key === "server"
                  ? found.server.host
                  : key === "song"
                    ? (found.songFrom ?? "you")
                    : String(found[key as keyof AirStream]),
              )
              .join(", ")
          : "gone",
      };
    },
  });
}

/** Something that is done with a stream and is no step of the show: one press is one of it. */
function useAct<T>(send: (stream: string, what: T) => Promise<unknown>) {
  const queries = useQueryClient();
  const { begin, end } = useOneAtATime();
  const { mutate, isPending } = useMutation({
    mutationFn: ({ stream, what }: { stream: string; what: T }) => send(stream, what),
    onError: tellWrong,
    onSettled: () => {
      end();
      return Promise.all([
        queries.invalidateQueries({ queryKey: airKey }),
        queries.invalidateQueries({ queryKey: stationKey }),
      ]);
    },
  });
  return {
    mutate: (stream: string, what: T, options?: { onSuccess?: () => void }) =>
      begin(() => mutate({ stream, what }, options)),
    isPending,
  };
}

const at = (stream: string) => ({ params: { path: { stream } } });

/** Goes on air, or off. */
export function useOnOff() {
  return useAct((stream, on: boolean) =>
    answer(on ? api.POST("/api/air/{stream}/start", at(stream)) : api.POST("/api/air/{stream}/stop", at(stream))),
  );
}

/** Sends silence (null) or a source instead of the mix, or the mix again (undefined). */
export function usePause() {
  return useAct((stream, source: string | null | undefined) =>
    answer(
      source === undefined
        ? api.DELETE("/api/air/{stream}/pause", at(stream))
        : api.PUT("/api/air/{stream}/pause", { ...at(stream), body: source === null ? {} : { source } }),
    ),
  );
}

export function useSing() {
  return useAct((stream, song: string) => answer(api.PUT("/api/air/{stream}/song", { ...at(stream), body: { song } })));
}

export function useSetPassword() {
  return useAct((stream, password: string | null) =>
    answer(api.PUT("/api/air/{stream}/password", { ...at(stream), body: password === null ? {} : { password } })),
  );
}

export function useStation() {
  return useQuery({ queryKey: stationKey, queryFn: () => answer(api.GET("/api/station")), refetchInterval: 2_000 });
}

export function useSetStation() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (wish: { isOn: boolean; refusal: string | null; bytesASecond: number | null }) =>
      answer(api.PUT("/api/station", { body: wish })),
    onError: tellWrong,
    onSettled: () => queries.invalidateQueries({ queryKey: stationKey }),
  });
}
