import type { OrderNote, Processor, ProcessorType, Show } from "@/core/api/client";
import { type ChainPlace, useTurning } from "@/features/chains/parts";
import { LargePicture } from "./LargePicture";
import { StageSettings } from "./StageSettings";

interface ChosenProps {
  show: Show;
  place: ChainPlace;
  chain: Processor[];
  index: number;
  type: ProcessorType;
  notes: OrderNote[];
  color: string;
}

/** The chosen processor: its picture, and what can be set on it. */
export function Chosen({ show, place, chain, index, type, notes, color }: ChosenProps) {
  const processor = chain[index];
  const turning = useTurning(place, processor?.id ?? "", type);
  if (!processor) return null;
  return (
    <div className="flex min-h-0 grow max-md:flex-col max-md:overflow-auto">
      <div className="min-h-0 min-w-0 grow p-3 max-md:h-96 max-md:shrink-0">
        <LargePicture
          place={place}
          chain={chain}
          processor={processor}
          type={type}
          index={index}
          color={color}
          turning={turning}
        />
      </div>
      <StageSettings
        show={show}
        place={place}
        processor={processor}
        type={type}
        index={index}
        count={chain.length}
        notes={notes}
        turning={turning}
      />
    </div>
  );
}
