import { type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api, type OnAirComparison } from "@/core/api/client";
import { refetchOn } from "./hub";

const key = ["on air"];

/** Keeps in step with what is compared on air. */
export const followOnAir = (queries: QueryClient) => refetchOn(queries, "OnAirChanged", key);

/** What is compared on air, by whichever window; null: nothing. */
export function useOnAir(): OnAirComparison | null {
  return useQuery({ queryKey: key, queryFn: () => answer(api.GET("/api/on-air")) }).data?.comparison ?? null;
}
