import { keepPreviousData, type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api, type ShowPromise, type Watched } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { to, useStep } from "@/core/commands/step";
import { refetchOn } from "@/core/realtime/hub";

const promisesKey = ["promises"] as const;

/** Keeps in step with the server how promises stand: by the computer and by the sound too. */
export function followPromises(queries: QueryClient) {
  refetchOn(queries, "PromisesChanged", promisesKey);
  refetchOn(queries, "GearChanged", promisesKey);
}

/** How the live show's promises stand; asked anew for every state of it, and where somebody reads them all the time. */
export function usePromises(isRead = false) {
  const show = useShow().data;
  return useQuery({
    queryKey: [...promisesKey, show?.id, show?.revision],
    queryFn: () => answer(api.GET("/api/shows/{show}/promises", { params: { path: { show: show?.id ?? "" } } })),
    enabled: show !== undefined,
    placeholderData: keepPreviousData,
    refetchInterval: isRead ? 2000 : false,
  });
}

/** When promises broke. */
export function useBreaks() {
  const show = useShow().data;
  return useQuery({
    queryKey: [...promisesKey, show?.id, "breaks"],
    queryFn: () => answer(api.GET("/api/shows/{show}/promises/breaks", { params: { path: { show: show?.id ?? "" } } })),
    enabled: show !== undefined,
  });
}

/** Makes promises, as one step. */
export function useAddPromises() {
  return useStep((promises: ShowPromise[], seen) =>
    answer(api.POST("/api/shows/{show}/promises", { ...to(seen), body: { promises } })),
  );
}

/** Makes another of a promise. */
export function useSetPromise() {
  return useStep((promise: ShowPromise, seen) =>
    answer(
      api.PUT("/api/shows/{show}/promises/{promise}", { ...to(seen, { promise: promise.id }), body: { promise } }),
    ),
  );
}

/** Takes a promise out of the show. */
export function useRemovePromise() {
  return useStep((promise: string, seen) =>
    answer(api.DELETE("/api/shows/{show}/promises/{promise}", { ...to(seen, { promise }) })),
  );
}

/** How many stand how. */
export function countsOf(promises: readonly Watched[]) {
  const of = (state: Watched["state"]) => promises.filter((p) => p.state === state).length;
  return { kept: of("Kept"), broken: of("Broken"), notKnown: of("NotKnown") };
}

/** "11 promises kept · 1 broken": what is none is not said. */
export function countWords(promises: readonly Watched[]): string {
  const { kept, broken, notKnown } = countsOf(promises);
  const words = [
    kept > 0 && `${kept} ${kept === 1 ? "promise" : "promises"} kept`,
    broken > 0 && `${broken} broken`,
    notKnown > 0 && `${notKnown} not known`,
  ].filter(Boolean);
  return words.join(" · ") || "No promises";
}

/** Of each promise that the routing breaks now, what it concerns; null: not known yet for the state of the show that is seen. */
export function useBrokenPlaces(): string[][] | null {
  const promises = usePromises();
  if (!promises.data || promises.isPlaceholderData) return null;
  return promises.data.promises.filter((p) => p.routing.state === "Broken").map((p) => p.routing.places);
}
