import { useQuery } from "@tanstack/react-query";
import { answer, api, type ProcessorType } from "@/core/api/client";

/** What can stand in a chain: it never changes while a page is open. */
export function useCatalogue() {
  return useQuery({
    queryKey: ["processors"],
    queryFn: () => answer(api.GET("/api/processors")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

export function typeOf(types: readonly ProcessorType[], key: string): ProcessorType | undefined {
  return types.find((t) => t.key === key);
}
