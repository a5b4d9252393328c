import { useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import type { Processor, ProcessorType } from "@/core/api/client";
import { storedValue, valueText } from "@/shared/forms/parameters";
import { useBenchChange } from "./bench";
import { type ChainPlace, type ProcessorChange, useChangeProcessor } from "./changes";
import { previewProcessor, turnKey, turns } from "./previews";

/** What can be done to one processor: changed at once, or turned, which is heard before it is stored. */
export function useTurning(place: ChainPlace, processor: string, type: ProcessorType) {
  const queries = useQueryClient();
  const onBench = useBenchChange(place);
  const inShow = useChangeProcessor(place, (of, change) =>
    [
      ...(change.bypassed === undefined ? [] : [of.bypassed ? "bypassed" : "at work"]),
      ...type.parameters
        .filter((p) => change.values?.[p.key] !== undefined)
        .map((p) => `${p.name} ${valueText(p, storedValue(p, of.values))}`),
    ].join(", "),
  );
  const { mutate, mutateAsync, editing } = place.loop === undefined ? inShow : onBench;
  const turned = useRef<Record<string, number> | null>(null);
  const preview = (key: string, value: number | null) => previewProcessor(queries, place, processor, key, value);
  const store = (values: Record<string, number>) => {
    mutateAsync({ processor, change: { values } }).catch(() => {
      for (const key of Object.keys(values)) preview(key, null);
    });
  };
  return {
    /** Changes it. */
    set: (change: ProcessorChange) => mutate({ processor, change }),
    /** Lets one parameter be heard with another value. */
    preview,
    /** Stores values of parameters: one step. */
    store,
    /** A value is being edited, or no longer. */
    editing,
    /** Lets several parameters be heard with other values, as parts of one gesture. */
    turn: (values: Record<string, number>) => {
      if (turned.current === null) editing(true);
      turned.current = { ...turned.current, ...values };
      for (const [key, value] of Object.entries(values)) {
        turns.set(turnKey(processor, key), value);
        preview(key, value);
      }
    },
    /** Ends the gesture: what it came to is one step. */
    letGo: () => {
      const values = turned.current;
      if (values === null) return;
      turned.current = null;
      store(values);
      editing(false);
      for (const key of Object.keys(values)) turns.end(turnKey(processor, key));
    },
  };
}

/** The values of a processor as they are heard now: what is stored, and on top of it what is being turned. */
export function useValues(processor: Processor, type: ProcessorType): Record<string, number> {
  const turning = turns.use((s) => s.values);
  return Object.fromEntries(
    type.parameters.map((p) => [p.key, turning[turnKey(processor.id, p.key)] ?? storedValue(p, processor.values)]),
  );
}
