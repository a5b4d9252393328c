import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api, type OrderNote } from "@/core/api/client";
import { useShow } from "@/core/commands/show";

/** How long a curve is kept once nobody shows it any more: a drag makes many, ms. */
const kept = 10_000;

/** What a processor does with these values, as the core draws it; while it draws, what was before. */
export function useCurve(type: string, values: Record<string, number>) {
  return useQuery({
    queryKey: ["curve", type, values],
    queryFn: () => answer(api.POST("/api/processors/{type}/curve", { params: { path: { type } }, body: { values } })),
    placeholderData: (before, query) => (query?.queryKey[1] === type ? before : undefined),
    gcTime: kept,
  }).data;
}

const none: OrderNote[] = [];

/** Where the order of a chain works against itself. */
export function useOrderNotes(point: string): OrderNote[] {
  const show = useShow().data;
  const notes = useQuery({
    queryKey: ["chain-notes", show?.id, show?.revision],
    queryFn: () => answer(api.GET("/api/shows/{show}/chain-notes", { params: { path: { show: show?.id ?? "" } } })),
    enabled: show !== undefined,
    placeholderData: keepPreviousData,
  }).data;
  return notes?.find((n) => n.place === point)?.notes ?? none;
}
