import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api } from "@/core/api/client";
import { useOneAtATime } from "@/core/commands/once";
import { tellWrong } from "@/core/notices/notices";

const addressesKey = ["addresses"] as const;

/** Who reads comes and goes without any step of the show: it is looked again, milliseconds. */
const lookAgain = 2_000;

export function useAddresses() {
  return useQuery({
    queryKey: addressesKey,
    queryFn: () => answer(api.GET("/api/addresses")),
    refetchInterval: lookAgain,
  });
}

/** Opens an address for a mix or a cable. */
export function useOpenAddress() {
  const queries = useQueryClient();
  const { begin, end } = useOneAtATime();
  const { mutate, isPending } = useMutation({
    mutationFn: (point: string) => answer(api.POST("/api/addresses", { body: { point } })),
    onError: tellWrong,
    onSettled: () => {
      end();
      return queries.invalidateQueries({ queryKey: addressesKey });
    },
  });
  return { mutate: (point: string) => begin(() => mutate(point)), isPending };
}

export function useCloseAddress() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (key: string) => answer(api.DELETE("/api/addresses/{key}", { params: { path: { key } } })),
    onError: tellWrong,
    onSettled: () => queries.invalidateQueries({ queryKey: addressesKey }),
  });
}

/** Lets go of who sends into a cable by its address: what it had handed over ahead is not heard any more. */
export function useLetSenderGo() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (key: string) => answer(api.DELETE("/api/addresses/{key}/sender", { params: { path: { key } } })),
    onError: tellWrong,
    onSettled: () => queries.invalidateQueries({ queryKey: addressesKey }),
  });
}
