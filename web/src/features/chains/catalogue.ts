import { type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api, type ProcessorType } from "@/core/api/client";

// It never changes while a page is open.
const catalogue = {
  queryKey: ["processors"],
  queryFn: () => answer(api.GET("/api/processors")),
  staleTime: Number.POSITIVE_INFINITY,
};

/** What can stand in a chain. */
export function useCatalogue() {
  return useQuery(catalogue);
}

/** The same, fetched where it is not known yet. */
export function catalogueOf(queries: QueryClient) {
  return queries.ensureQueryData(catalogue);
}

export function typeOf(types: readonly ProcessorType[], key: string): ProcessorType | undefined {
  return types.find((t) => t.key === key);
}
