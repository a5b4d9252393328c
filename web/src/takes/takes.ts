import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { tellWrong } from "../ui/notices";

export const takesKey = ["takes"] as const;

export function useTakes() {
  return useQuery({ queryKey: takesKey, queryFn: () => answer(api.GET("/api/takes")) });
}

/** The address of a track's file. */
export function trackUrl(take: string, track: string): string {
  return `/api/takes/${take}/tracks/${track}/file`;
}

/** Begins a take, or ends the one that is being recorded. */
export function useRecord() {
  const queries = useQueryClient();
  const settled = () => void queries.invalidateQueries({ queryKey: takesKey });
  const start = useMutation({
    mutationFn: () => answer(api.POST("/api/takes", { body: {} })),
    onError: tellWrong,
    onSettled: settled,
  });
  const stop = useMutation({
    mutationFn: () => answer(api.POST("/api/takes/current/stop")),
    onError: tellWrong,
    onSettled: settled,
  });
  return { start, stop };
}
