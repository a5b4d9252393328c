import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api } from "@/core/api/client";
import { tellWrong } from "@/core/notices/notices";
import { on, onMissed } from "@/core/realtime/hub";

const handsKey = ["hands"] as const;
let follows = false;

/** What is held now, and which ways for hands are open. */
export function useHands() {
  const queries = useQueryClient();
  useEffect(() => {
    if (follows) return;
    follows = true;
    const anew = () => void queries.invalidateQueries({ queryKey: handsKey });
    on("HandsChanged", anew);
    onMissed(anew);
  }, [queries]);
  return useQuery({
    queryKey: handsKey,
    queryFn: () => answer(api.GET("/api/hands")),
    gcTime: Number.POSITIVE_INFINITY,
  });
}

/** Lets go of all that is held, whoever holds it. */
export function useEndHolds() {
  return useMutation({ mutationFn: () => answer(api.DELETE("/api/hands/holds")), onError: tellWrong });
}

/** Listens for messages, or no longer. */
export function useSetOsc() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (wish: { on: boolean; port?: number }) => answer(api.PUT("/api/hands/osc", { body: wish })),
    onError: tellWrong,
    onSettled: () => void queries.invalidateQueries({ queryKey: handsKey }),
  });
}

/** Makes a token for commands: it is told once. */
export function useMakeToken() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => answer(api.POST("/api/hands/token")),
    onError: tellWrong,
    onSettled: () => void queries.invalidateQueries({ queryKey: handsKey }),
  });
}

/** Takes no commands any more. */
export function useRemoveToken() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () => answer(api.DELETE("/api/hands/token")),
    onError: tellWrong,
    onSettled: () => void queries.invalidateQueries({ queryKey: handsKey }),
  });
}
