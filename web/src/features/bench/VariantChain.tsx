import { useState } from "react";
import type { Loop, ProcessorType, Show, Variant } from "@/core/api/client";
import { usePlace } from "@/core/place/place";
import { ChainTrack, Chosen } from "@/features/voice/parts";

interface Props {
  show: Show;
  loop: Loop;
  variant: Variant;
  types: ProcessorType[];
  color: string;
}

/** A variant's chain, looked at and worked on as the live one is. */
export function VariantChain({ show, loop, variant, types, color }: Props) {
  const stage = usePlace((p) => p.stage);
  const [place] = useState({ loop: loop.id, source: variant.id });
  const { chain, notes } = variant;
  const found = chain.findIndex((p) => p.id === stage);
  const index = found < 0 ? 0 : found;
  const chosen = chain[index];
  const type = chosen && types.find((t) => t.key === chosen.type);
  return (
    <>
      <ChainTrack
        show={show}
        place={place}
        chain={chain}
        types={types}
        notes={notes}
        chosen={chosen?.id ?? null}
        color={color}
      />
      {chosen && type ? (
        <Chosen
          key={`${variant.id} ${chosen.id}`}
          show={show}
          place={place}
          chain={chain}
          index={index}
          type={type}
          notes={notes}
          color={color}
        />
      ) : (
        <p className="p-6 text-quiet">
          Nothing stands in this chain yet: it is the sound as it comes. Add a processor.
        </p>
      )}
    </>
  );
}
