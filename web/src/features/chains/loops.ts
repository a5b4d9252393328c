import { type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api, type Loop } from "@/core/api/client";
import { refetchOn } from "@/core/realtime/hub";

/** By what the loops on the bench are known here. */
export const loopsKey = (show: string) => ["loops", show] as const;

/** Keeps the list in step with the server. */
export function followLoops(queries: QueryClient) {
  refetchOn(queries, "LoopsChanged", ["loops"]);
  refetchOn(queries, "StorageChanged", ["loops"]);
}

/** The loops of a show, the newest first. */
export function useLoops(show: string) {
  return useQuery({
    queryKey: loopsKey(show),
    queryFn: () => answer(api.GET("/api/shows/{show}/loops", { params: { path: { show } } })),
  });
}

/** Takes in one as the server gave it, unless this window knows a newer one. */
export function acceptLoop(queries: QueryClient, show: string, loop: Loop) {
  queries.setQueryData<Loop[]>(loopsKey(show), (loops) =>
    loops?.map((l) => (l.id === loop.id && l.revision <= loop.revision ? loop : l)),
  );
}
