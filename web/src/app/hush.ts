import { useMutation } from "@tanstack/react-query";
import { answer, api } from "@/core/api/client";
import { tellWrong } from "@/core/notices/notices";

/** Silences every mix, or lets every mix sound again. */
export function useHush() {
  return useMutation({
    mutationFn: (on: boolean) => answer(api.PUT("/api/hush", { body: { on } })),
    onError: tellWrong,
  });
}
