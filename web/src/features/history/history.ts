import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, type HistoryLine } from "@/core/api/client";
import { seenNow } from "@/core/commands/step";
import { tell } from "@/core/notices/notices";
import { on, refetchOn } from "@/core/realtime/hub";
import { windowId } from "@/core/realtime/identity";

export const historyKey = ["history"] as const;

/** The newest steps, newest first. */
export function useHistory() {
  const queries = useQueryClient();
  return useQuery({
    queryKey: historyKey,
    queryFn: async () => {
      const { show } = await seenNow(queries);
      return answer(api.GET("/api/shows/{show}/history", { params: { path: { show } } }));
    },
  });
}

/** Whose a step was, for this window. */
export function whose(step: HistoryLine): string {
  if (step.window === windowId) return "this window";
  if (step.window === null) return "not from a window";
  return `another window${step.windowName ? ` (${step.windowName})` : ""}`;
}

/** Keeps the history in step, and says so where another window takes something back. */
export function followHistory(queries: QueryClient) {
  refetchOn(queries, "ShowChanged", historyKey);
  refetchOn(queries, "ShowOpened", historyKey);
  on("ShowChanged", ({ step }) => {
    if (step && step.kind !== "Do" && step.window !== windowId) {
      tell("done", step.sentence, `By another window${step.windowName ? ` (${step.windowName})` : ""}.`);
    }
  });
}
