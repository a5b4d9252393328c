import { type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Microphone, type NewMicrophone, type Source } from "@/core/api/client";
import { acceptShow } from "@/core/commands/show";
import { seenNow, to } from "@/core/commands/step";
import { refetchOn } from "@/core/realtime/hub";

const microphonesKey = ["microphones"] as const;

/** Keeps in step with the server how inputs stand. */
export function followMicrophones(queries: QueryClient) {
  refetchOn(queries, "MicrophonesChanged", microphonesKey);
}

/** How the browsers' inputs of the show stand, as the server sees it. `often`: numbers are looked at. */
export function useMicrophones(often = false) {
  return useQuery({
    queryKey: microphonesKey,
    queryFn: () => answer(api.GET("/api/microphones")),
    refetchInterval: often ? 1000 : false,
  });
}

/** The input of a source, as the server sees it. */
export function microphoneOf(microphones: Microphone[] | undefined, source: Source): Microphone | undefined {
  const { input } = source;
  if (input.type !== "browser") return undefined;
  return microphones?.find((m) => m.client === input.client && m.device === input.device);
}

export function useAddMicrophone() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (body: NewMicrophone) =>
      answer(api.POST("/api/shows/{show}/microphones", { ...to(await seenNow(queries)), body })),
    onSuccess: (show) => {
      acceptShow(queries, show);
      void queries.invalidateQueries({ queryKey: microphonesKey });
    },
  });
}
