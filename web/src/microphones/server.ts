import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Microphone, type NewMicrophone, type Source } from "../api/client";
import { acceptShow, changeHeaders } from "../show/show";
import { microphonesKey } from "./keys";

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
    mutationFn: (body: NewMicrophone) => answer(api.POST("/api/show/microphones", { body, headers: changeHeaders() })),
    onSuccess: (show) => {
      acceptShow(queries, show);
      void queries.invalidateQueries({ queryKey: microphonesKey });
    },
  });
}
