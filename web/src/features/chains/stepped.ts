import type { Processor } from "@/core/api/client";
import type { ChainStep } from "./changes";

type Chain = Processor[];

/** A new identity for a processor on the bench; in the show it gets another one. */
export const newId = () => crypto.randomUUID().replaceAll("-", "");

/** What a step makes of a chain on the bench. Presets and copies of others are put in its place. */
export function stepped(chain: Chain, step: ChainStep, made: Chain = []): Chain {
  switch (step.kind) {
    case "add":
    case "preset":
    case "own":
    case "copy":
      if (step.kind !== "add") return made;
      return chain.toSpliced(step.index ?? chain.length, 0, ...made);
    case "duplicate": {
      const of = chain.find((p) => p.id === step.processor);
      return of ? chain.toSpliced(step.index + 1, 0, { ...of, id: newId() }) : chain;
    }
    case "remove":
      return chain.filter((p) => p.id !== step.processor);
    case "move": {
      const of = chain.find((p) => p.id === step.processor);
      return of ? chain.filter((p) => p !== of).toSpliced(step.index, 0, of) : chain;
    }
    case "bypass":
      return chain.map((p) => ({ ...p, bypassed: step.bypassed }));
  }
}
