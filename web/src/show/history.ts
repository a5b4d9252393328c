import { useQuery } from "@tanstack/react-query";
import { answer, api, type HistoryLine } from "../api/client";
import { windowId } from "../live/identity";

export const historyKey = ["history"] as const;

/** The newest steps, newest first. */
export function useHistory() {
  return useQuery({ queryKey: historyKey, queryFn: () => answer(api.GET("/api/show/history")) });
}

/** Whose a step was, for this window. */
export function whose(step: HistoryLine): string {
  if (step.window === windowId) return "this window";
  if (step.window === null) return "not from a window";
  return `another window${step.windowName ? ` (${step.windowName})` : ""}`;
}
