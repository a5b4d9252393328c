import type { QueryClient } from "@tanstack/react-query";
import { refetchOn } from "@/core/realtime/hub";

export const pathsKey = ["paths"] as const;

/** Keeps in step with the server where sound goes: the computer is part of it. */
export function followPaths(queries: QueryClient) {
  refetchOn(queries, "GearChanged", pathsKey);
}
