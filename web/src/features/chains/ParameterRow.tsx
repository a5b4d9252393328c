import { Slider } from "radix-ui";
import { type KeyboardEvent, useRef } from "react";
import type { Parameter } from "@/core/api/client";
import { allowedText, readValue, shareOf, valueAt, valueText } from "@/shared/forms/parameters";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { Switch } from "@/shared/ui/Switch";
import { ValueField } from "@/shared/ui/ValueField";
import { turnKey, turns } from "./previews";

/** Places on a slider: fine enough for a hand, and a key moves by one hundredth. */
const places = 400;
const keyStep = 4;

interface Props {
  parameter: Parameter;
  processor: string;
  value: number;
  /** It is being turned. */
  onPreview: (value: number) => void;
  onChange: (value: number) => void;
  onEditing: (editing: boolean) => void;
}

/** One parameter: a slider and its value to type, a switch, or a choice of words. */
export function ParameterRow({ parameter, processor, value: stored, onPreview, onChange, onEditing }: Props) {
  const key = turnKey(processor, parameter.key);
  const value = turns.use((s) => s.values[key]) ?? stored;
  const turned = useRef<number | null>(null);
  const choices = parameter.choices ?? [];
  if (choices.length === 2 && choices[0] === "Off")
    return <Switch label={parameter.name} on={value === 1} onChange={(on) => onChange(on ? 1 : 0)} />;
  if (parameter.scale === "Choice")
    return (
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-2" title={parameter.meaning}>
        <span className="text-[13px] text-quiet">{parameter.name}</span>
        <Menu
          trigger={
            <Button className="h-7 justify-start" aria-label={`${parameter.name}: ${choices[value]}`}>
              {choices[value]}
            </Button>
          }
          title={parameter.name}
          items={choices.map((words, i) => ({ words, chosen: i === value, onSelect: () => onChange(i) }))}
        />
      </div>
    );

  const turn = (next: number) => {
    if (turned.current === null) onEditing(true);
    turned.current = next;
    turns.set(key, next);
    onPreview(next);
  };

  // One change for a whole gesture, of the hand or of keys; the server knows whether it is one, and ends the preview.
  const letGo = () => {
    const next = turned.current;
    if (next === null) return;
    turned.current = null;
    onChange(next);
    onEditing(false);
    turns.end(key);
  };

  const isKey = (e: KeyboardEvent) => /^(Arrow|Page|Home|End)/.test(e.key);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_5.5rem] items-center gap-x-2" title={parameter.meaning}>
      <span className="truncate text-[13px] text-quiet">{parameter.name}</span>
      <ValueField
        bare
        label={parameter.name}
        className="h-6 w-full text-right"
        value={value}
        show={(v) => valueText(parameter, v)}
        read={(text) => readValue(parameter, text)}
        allowed={allowedText(parameter)}
        onEditing={onEditing}
        onChange={onChange}
        step={(v, by) => valueAt(parameter, shareOf(parameter, v) + by / 100)}
      />
      <Slider.Root
        className="relative col-span-2 flex h-5 touch-none items-center select-none"
        min={0}
        max={places}
        step={1}
        value={[Math.round(shareOf(parameter, value) * places)]}
        onValueChange={([place]) => turn(valueAt(parameter, (place ?? 0) / places))}
        onPointerUp={letGo}
        onPointerCancel={letGo}
        onKeyDown={(e) => {
          if (!/^Arrow/.test(e.key)) return;
          e.preventDefault();
          const by = (/Right|Up/.test(e.key) ? 1 : -1) * (e.shiftKey ? 1 : keyStep);
          turn(valueAt(parameter, shareOf(parameter, value) + by / places));
        }}
        onKeyUp={(e) => isKey(e) && letGo()}
        onBlur={letGo}
      >
        <Slider.Track className="relative h-1 grow rounded-full bg-line">
          <Slider.Range className="absolute h-full rounded-full bg-strong" />
        </Slider.Track>
        <Slider.Thumb
          aria-label={parameter.name}
          aria-valuetext={valueText(parameter, value)}
          className="block h-3.5 w-2 rounded-sm bg-ink"
        />
      </Slider.Root>
    </div>
  );
}
