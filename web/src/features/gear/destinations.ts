import { answer, api, type Destination, type Gain } from "@/core/api/client";
import { to, useStep } from "@/core/commands/step";

type End = Destination["end"];

/** What can be changed of how a mix goes somewhere. */
export interface DestinationChange {
  gain?: Gain;
  on?: boolean;
  into?: { left: number; right: number | null };
  end?: End;
}

export function useAddDestination(mix: string) {
  return useStep(
    ({ end, into, gain }: { end: End; into?: { left: number; right: number | null }; gain?: Gain }, seen) =>
      answer(
        api.POST("/api/shows/{show}/mixes/{mix}/destinations", {
          ...to(seen, { mix }),
          body: { end, into, gain, on: true },
        }),
      ),
  );
}

export function useChangeDestination(mix: string) {
  return useStep(({ id, change }: { id: string; change: DestinationChange }, seen) =>
    answer(
      api.PATCH("/api/shows/{show}/mixes/{mix}/destinations/{destination}", {
        ...to(seen, { mix, destination: id }),
        body: change,
      }),
    ),
  );
}

export function useRemoveDestination(mix: string) {
  return useStep((id: string, seen) =>
    answer(
      api.DELETE("/api/shows/{show}/mixes/{mix}/destinations/{destination}", {
        ...to(seen, { mix, destination: id }),
      }),
    ),
  );
}
