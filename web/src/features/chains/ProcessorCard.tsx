import { ArrowDown, ArrowUp, ChevronDown, ChevronRight, Trash2 } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Processor, ProcessorType, Show } from "@/core/api/client";
import { gateStates, ProcessorMeter } from "@/core/api/generated/live";
import { meters, onPaint } from "@/core/meters/meters";
import { decimal } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Switch } from "@/shared/ui/Switch";
import { type ChainPlace, useChainStep } from "./changes";
import { KeyChoice } from "./KeyChoice";
import { ParameterRows } from "./ParameterRows";
import { useTurning } from "./turning";

/** What a gate does; what is no gate, or is bypassed, does nothing. */
const gateWords: Record<(typeof gateStates)[number], string> = {
  None: "",
  Shut: "shut",
  Open: "open",
  Holding: "holding",
};

/** How much reduction fills the bar, dB. */
const fullBar = 24;

interface Props {
  show: Show;
  place: ChainPlace;
  processor: Processor;
  type: ProcessorType;
  index: number;
  count: number;
  open: boolean;
  onOpen: (open: boolean) => void;
}

/** One processor of a chain: what it does now, and, opened, all that can be set on it. */
export function ProcessorCard({ show, place, processor, type, index, count, open, onOpen }: Props) {
  const turning = useTurning(place, processor.id, type);
  const { set } = turning;
  const step = useChainStep(place);
  const movable = count > 1;
  return (
    <li className="rounded-md border border-line">
      <button
        type="button"
        aria-expanded={open}
        className="flex h-8 w-full items-center gap-1.5 px-1.5 text-left text-[13px]"
        onClick={() => onOpen(!open)}
      >
        {open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
        <span className={`grow truncate ${processor.bypassed ? "text-quiet line-through" : ""}`}>{type.name}</span>
        {processor.bypassed ? (
          <span className="text-xs text-quiet">bypassed</span>
        ) : (
          type.reduces && <Reduction processor={processor.id} />
        )}
      </button>
      {open && (
        <div className="flex flex-col gap-1.5 border-line border-t p-2">
          <p className="text-xs text-quiet">{type.purpose}</p>
          {type.keyUse !== "None" && (
            <KeyChoice show={show} place={place} processor={processor} type={type} onChange={(keys) => set({ keys })} />
          )}
          <ParameterRows processor={processor} type={type} turning={turning} />
          {type.key === "limiter" && (processor.values.drive ?? 0) > 0 && (
            <p className="text-xs">
              All that stays below the ceiling comes out {decimal(processor.values.drive ?? 0)} dB louder, the noise of
              the room too.
            </p>
          )}
          <p className="text-xs text-quiet">Overdone: {type.overdone}</p>
          <div className="flex items-center gap-1">
            <div className="grow">
              <Switch label="Bypass" on={processor.bypassed} onChange={(bypassed) => set({ bypassed })} />
            </div>
            {movable && (
              <>
                <Button
                  tone="quiet"
                  square
                  aria-label={`Move ${type.name} up`}
                  disabled={index === 0}
                  icon={<ArrowUp size={14} />}
                  onClick={() => step.mutate({ kind: "move", processor: processor.id, index: index - 1 })}
                />
                <Button
                  tone="quiet"
                  square
                  aria-label={`Move ${type.name} down`}
                  disabled={index === count - 1}
                  icon={<ArrowDown size={14} />}
                  onClick={() => step.mutate({ kind: "move", processor: processor.id, index: index + 1 })}
                />
              </>
            )}
            <Button
              tone="quiet"
              square
              aria-label={`Remove ${type.name}`}
              icon={<Trash2 size={14} />}
              onClick={() => step.mutate({ kind: "remove", processor: processor.id })}
            />
          </div>
        </div>
      )}
    </li>
  );
}

/** By how much it lowers the sound now: a bar that grows to the left, and the number. */
function Reduction({ processor }: { processor: string }) {
  const bar = useRef<HTMLSpanElement>(null);
  const number = useRef<HTMLSpanElement>(null);
  const gate = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    let written = 0;
    return onPaint((now) => {
      const reduction = Math.max(0, meters.processor(processor, ProcessorMeter.reduction));
      if (bar.current) bar.current.style.transform = `scaleX(${Math.min(1, reduction / fullBar).toFixed(3)})`;
      if (now - written < 150 || !number.current) return;
      written = now;
      if (gate.current)
        gate.current.textContent = gateWords[gateStates[meters.processor(processor, ProcessorMeter.gate)] ?? "None"];
      number.current.textContent = reduction < 0.05 ? "0.0 dB" : `−${reduction.toFixed(1)} dB`;
    });
  }, [processor]);
  return (
    <>
      <span ref={gate} className="text-xs text-quiet" />
      <span className="relative h-1.5 w-12 overflow-hidden rounded-full bg-line" aria-hidden="true">
        <span
          ref={bar}
          className="absolute inset-0 origin-right rounded-full bg-ink"
          style={{ transform: "scaleX(0)" }}
        />
      </span>
      <span ref={number} className="w-14 text-right text-xs text-quiet">
        0.0 dB
      </span>
    </>
  );
}
