import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Gain, lasting, type Mix, type Send, type Show, type Source } from "../api/client";
import { clientId } from "../live/hub";
import { tellWrong } from "../ui/notices";

export const showKey = ["show"] as const;

/** The live show, as this window knows it. */
export function useShow() {
  return useQuery({ queryKey: showKey, queryFn: () => answer(api.GET("/api/show")) });
}

/** Takes in a show, unless a newer one is known already. */
export function acceptShow(queries: QueryClient, show: Show) {
  queries.setQueryData<Show>(showKey, (known) =>
    known && known.id === show.id && known.revision > show.revision ? known : show,
  );
}

/** What a change of a send may hold; what is left out stays as it is. */
export type SendChange = Partial<Pick<Send, "gain" | "heard" | "muted" | "pan">>;
export type MixChange = Partial<Pick<Mix, "name" | "gain" | "targetLufs">>;
export type SourceChange = Partial<Pick<Source, "name" | "trim" | "look">>;

function headers(): Record<string, string> {
  const id = clientId();
  return id === null ? {} : { "X-Client": id };
}

/** A change that shows at once, and is taken back with words where the server refuses it. */
function useChange<T>(send: (change: T) => Promise<Show>, foresee: (show: Show, change: T) => Show) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: send,
    onMutate: (change) => {
      const before = queries.getQueryData<Show>(showKey);
      if (before) queries.setQueryData<Show>(showKey, foresee(before, change));
      return before;
    },
    onSuccess: (show) => acceptShow(queries, show),
    onError: (error, _, before) => {
      tellWrong(error);
      if (before) queries.setQueryData<Show>(showKey, before);
      void queries.invalidateQueries({ queryKey: showKey });
    },
  });
}

export function useChangeSend() {
  return useChange(
    ({ mix, source, change }: { mix: string; source: string; change: SendChange }) =>
      answer(
        api.PATCH("/api/show/mixes/{mix}/sends/{source}", {
          params: { path: { mix, source } },
          body: change,
          headers: headers(),
          ...lasting,
        }),
      ),
    (show, { mix, source, change }) => ({
      ...show,
      mixes: show.mixes.map((m) =>
        m.id === mix ? { ...m, sends: m.sends.map((s) => (s.source === source ? { ...s, ...change } : s)) } : m,
      ),
    }),
  );
}

export function useChangeMix() {
  return useChange(
    ({ mix, change }: { mix: string; change: MixChange }) =>
      answer(
        api.PATCH("/api/show/mixes/{mix}", { params: { path: { mix } }, body: change, headers: headers(), ...lasting }),
      ),
    (show, { mix, change }) => ({ ...show, mixes: show.mixes.map((m) => (m.id === mix ? { ...m, ...change } : m)) }),
  );
}

export function useChangeSource() {
  return useChange(
    ({ source, change }: { source: string; change: SourceChange }) =>
      answer(
        api.PATCH("/api/show/sources/{source}", {
          params: { path: { source } },
          body: change,
          headers: headers(),
          ...lasting,
        }),
      ),
    (show, { source, change }) => ({
      ...show,
      sources: show.sources.map((s) => (s.id === source ? { ...s, ...change } : s)),
    }),
  );
}

export function useRemoveSource() {
  return useChange(
    (source: string) => answer(api.DELETE("/api/show/sources/{source}", { params: { path: { source } } })),
    (show) => show,
  );
}

export function usePlaySource() {
  return useMutation({
    mutationFn: (source: string) =>
      answer(api.POST("/api/show/sources/{source}/play", { params: { path: { source } } })),
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
    mutationFn: ({ file, name, loop }: NewSound) => {
      const form = new FormData();
      form.set("file", file);
      form.set("name", name);
      form.set("loop", String(loop));
      return answer(
        api.POST("/api/show/sources", { body: form as never, bodySerializer: (body) => body as unknown as FormData }),
      );
    },
    onSuccess: (show) => acceptShow(queries, show),
  });
}

/** The send of a source in a mix. A valid show has one for each. */
export function sendOf(mix: Mix, source: string): Send {
  const send = mix.sends.find((s) => s.source === source);
  if (!send) throw new Error(`The mix ${mix.name} has no send for ${source}.`);
  return send;
}

/** A gain within what may be set, as a number: "off" below the least that the Desk shows. */
export function allowedGain(value: number): Gain {
  if (value < -60) return "off";
  return Math.round(Math.min(value, 12) * 10) / 10;
}
