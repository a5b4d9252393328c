import { ArrowDown, ArrowUp } from "lucide-react";
import type { Gain } from "@/core/api/client";
import { nameAllowed, readName } from "@/shared/forms/names";
import { decimal, gainText, parseDelay } from "@/shared/look/format";
import { readGain } from "@/shared/look/gains";
import { Button } from "@/shared/ui/Button";
import { ValueField } from "@/shared/ui/ValueField";

const gainAllowed = "−120 to +12 dB, or off";

/** What every field of the inspector has. */
export interface FieldProps<T> {
  value: T;
  onChange: (value: T) => void;
  onEditing: (editing: boolean) => void;
}

/** A gain, to type. */
export function GainField({ label, ...rest }: FieldProps<Gain> & { label: string }) {
  return (
    <ValueField
      {...rest}
      label={label}
      show={gainText}
      read={readGain}
      allowed={gainAllowed}
      step={(g, by) => Math.min(12, Math.round(((g === "off" ? -60 : g) + by * 0.5) * 10) / 10)}
    />
  );
}

/** By how much a source is held back, to type. */
export function DelayField({ label, ...rest }: FieldProps<number> & { label: string }) {
  return (
    <ValueField
      {...rest}
      label={label}
      show={(ms) => `${decimal(ms)} ms`}
      read={parseDelay}
      allowed="0 to 2000 ms; or metres that sound goes (12 m), or pictures (2 f, 25 a second)"
      step={(ms, by) => Math.min(2000, Math.max(0, ms + by))}
    />
  );
}

/** The name of a source or a mix. */
export function NameField(props: FieldProps<string>) {
  return <ValueField {...props} label="Name" show={(v) => v} read={readName} allowed={nameAllowed} />;
}

/** Moves a source or a mix among its like. */
export function MoveButtons({
  place,
  count,
  onMove,
}: {
  place: number;
  count: number;
  onMove: (index: number) => void;
}) {
  return (
    <div className="mt-2 flex items-center gap-1 border-line border-t pt-2">
      <span className="grow text-xs text-quiet">
        Place {place + 1} of {count}
      </span>
      <Button
        tone="quiet"
        className="h-7"
        icon={<ArrowUp size={14} />}
        disabled={place <= 0}
        onClick={() => onMove(place - 1)}
      >
        Up
      </Button>
      <Button
        tone="quiet"
        className="h-7"
        icon={<ArrowDown size={14} />}
        disabled={place >= count - 1}
        onClick={() => onMove(place + 1)}
      >
        Down
      </Button>
    </div>
  );
}

/** A loudness as it is read. */
export function loudness(lufs: number): string {
  return `${decimal(lufs)} LUFS`;
}
