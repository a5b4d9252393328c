import { useMutation, useMutationState, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api } from "@/core/api/client";
import { tellWrong } from "@/core/notices/notices";
import { on, onMissed } from "@/core/realtime/hub";

const handsKey = ["hands"] as const;
const settingOsc = ["messages are set"] as const;
type OscWish = { on: boolean; port?: number };
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

/** Whether messages are listened for and where: what was wished and is not answered yet, as wished, over what the server says. */
export function useOscWished(osc: { on: boolean; port: number }) {
  // Laid over, not written into it: an answer on its way, of before, takes no press back.
  const wished = useMutationState<OscWish>({
    filters: { mutationKey: settingOsc, status: "pending" },
    select: (mutation) => mutation.state.variables as OscWish,
  });
  return wished.reduce((now, { on, port }) => ({ on, port: port ?? now.port }), { on: osc.on, port: osc.port });
}

/** Listens for messages, or no longer. */
export function useSetOsc() {
  const queries = useQueryClient();
  return useMutation({
    mutationKey: settingOsc,
    mutationFn: (wish: OscWish) => answer(api.PUT("/api/hands/osc", { body: wish })),
    // One after the other, as they were pressed: the later wish is the one that stays.
    scope: { id: "messages" },
    onError: tellWrong,
    // It stays wished until the server's word is here.
    onSettled: () => queries.invalidateQueries({ queryKey: handsKey }),
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
