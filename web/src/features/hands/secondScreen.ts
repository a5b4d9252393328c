import { useMutation, useMutationState, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "@/core/api/client";
import type { components } from "@/core/api/generated/schema";
import { tellWrong } from "@/core/notices/notices";
import { useHands } from "./hands";

const key = ["hands", "second screen"] as const;

const changing = ["second screen is set"] as const;

type State = components["schemas"]["SecondScreenDocument"];
type Wish = components["schemas"]["SecondScreenWish"];

/** How second screens are let in, and which were; what was wished and is not answered yet, as wished. */
export function useSecondScreen() {
  // Its topic is that of all hands.
  useHands();
  const state = useQuery({ queryKey: key, queryFn: () => answer(api.GET("/api/second-screen")) });
  // Laid over what the server says, not written into it: an answer on its way, of before, takes nothing back.
  const wished = useMutationState<Wish>({
    filters: { mutationKey: changing, status: "pending" },
    select: (mutation) => mutation.state.variables as Wish,
  });
  const data = state.data && wished.reduce(withWish, state.data);
  return { data, error: state.error, refetch: state.refetch };
}

const withWish = (state: State, { rights, addresses }: Wish): State => ({
  ...state,
  rights: rights ?? state.rights,
  addresses: addresses ?? state.addresses,
});

/** Lets them in or not, and says what they may do. */
export function useSetSecondScreen() {
  const queries = useQueryClient();
  return useMutation({
    mutationKey: changing,
    mutationFn: (body: Wish) => answer(api.PATCH("/api/second-screen", { body })),
    // One after the other: of two rights that are given quickly, the second holds the first.
    scope: { id: "second screen" },
    onError: tellWrong,
    // It stays wished until the server's word is here.
    onSettled: () => queries.invalidateQueries({ queryKey: key }),
  });
}

/** Throws a device out. */
export function useThrowOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (device: string) =>
      answer(api.DELETE("/api/second-screen/devices/{device}", { params: { path: { device } } })),
    onError: tellWrong,
    onSettled: () => void queries.invalidateQueries({ queryKey: key }),
  });
}
