import { useEffect } from "react";
import { create } from "zustand";
import { answer, api } from "@/core/api/client";
import { tellWrong } from "@/core/notices/notices";
import { askServer, tellServer } from "@/core/realtime/hub";
import type { ChainPlace } from "@/features/chains/parts";
import { pointOf } from "./stages";

/** Who hears what is chosen in the workshop: oneself, unless somebody says otherwise. */
export const useWhoHears = create<{ all: boolean }>(() => ({ all: false }));

/** Lets all who hear a chain hear it with or without it, or a processor of it. */
export async function compareOnAir(show: string, place: ChainPlace, processor: string | undefined, without: boolean) {
  const [source, mix] = place.mix === undefined ? [place.source ?? null, null] : [null, place.mix];
  try {
    await askServer("CompareOnAir", show, source, mix, processor ?? null, without);
  } catch (error) {
    tellWrong(error);
    useWhoHears.setState({ all: false });
  }
}

/** Ends what any window compares: all hear what the show says. */
export const endOnAir = () => answer(api.DELETE("/api/on-air")).catch(tellWrong);

/** What this window compares on air ends with the chain that it looks at. */
export function useOnAirEnds(place: ChainPlace, isEmpty: boolean) {
  const point = pointOf(place);
  // Of no chain, the server has ended it by itself.
  useEffect(() => {
    if (isEmpty) useWhoHears.setState({ all: false });
  }, [isEmpty]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another chain is another comparison
  useEffect(
    () => () => {
      if (!useWhoHears.getState().all) return;
      useWhoHears.setState({ all: false });
      tellServer("EndOnAir");
    },
    [point],
  );
}
