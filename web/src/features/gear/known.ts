import { type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api, type Gear } from "@/core/api/client";
import { on } from "@/core/realtime/hub";

/** Under this key the computer is kept as the server told it last. */
export const gearKey = ["gear"] as const;

/** Keeps in step with the server how the computer is. */
export function followGear(queries: QueryClient) {
  on("GearChanged", (sequence) => {
    const known = queries.getQueryData<Gear>(gearKey);
    if (known && known.sequence < sequence) void queries.invalidateQueries({ queryKey: gearKey });
  });
}

/** The computer around the desk. */
export function useGear() {
  return useQuery({ queryKey: gearKey, queryFn: () => answer(api.GET("/api/gear")) });
}
