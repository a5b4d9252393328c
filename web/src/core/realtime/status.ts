import { type QueryClient, useQuery } from "@tanstack/react-query";
import { answer, api } from "@/core/api/client";
import { refetchOn } from "./hub";

const statusKey = ["status"] as const;

/** Keeps in step with the server how its storage stands. */
export function followStatus(queries: QueryClient) {
  refetchOn(queries, "StorageChanged", statusKey);
}

/** How the server is; asked again every five seconds, each second while it waits for something or keeps changes for a database that is away. */
export function useStatus() {
  return useQuery({
    queryKey: statusKey,
    queryFn: () => answer(api.GET("/api/status")),
    refetchInterval: (query) => {
      const status = query.state.data;
      return status?.waitingFor === null && !status.databaseAway ? 5000 : 1000;
    },
  });
}
