import { Slider } from "radix-ui";
import type { PlainControl, ProcessorType } from "@/core/api/client";
import { movesText, placeAt, plainPlaces, valuesAt } from "./plain";

interface Props {
  control: PlainControl;
  type: ProcessorType;
  values: Record<string, number>;
  onTurn: (values: Record<string, number>) => void;
  onLetGo: () => void;
}

/** One control in words; below it stands what it turns. */
export function PlainRow({ control, type, values, onTurn, onLetGo }: Props) {
  const { place, exact } = placeAt(control, type, values);
  const words = `${place} of ${plainPlaces}, from ${control.low} to ${control.high}${exact ? "" : ", about: set by hand"}`;
  return (
    <div>
      <p className="flex items-baseline justify-between gap-2 text-[13px] font-medium">
        {control.name}
        {!exact && <span className="text-xs font-normal text-quiet">about: set by hand</span>}
      </p>
      <Slider.Root
        className="relative mt-1 flex h-7 touch-none items-center select-none"
        min={0}
        max={plainPlaces}
        step={1}
        value={[place]}
        onValueChange={([to]) => onTurn(valuesAt(control, type, to ?? 0))}
        onPointerUp={onLetGo}
        onPointerCancel={onLetGo}
        onKeyUp={(e) => /^(Arrow|Page|Home|End)/.test(e.key) && onLetGo()}
        onBlur={onLetGo}
      >
        <Slider.Track className="relative h-2 grow rounded-full bg-line">
          <Slider.Range className="absolute h-full rounded-full bg-strong" />
        </Slider.Track>
        <Slider.Thumb
          aria-label={control.name}
          aria-valuetext={words}
          className={`block h-5 w-3 rounded-sm border-2 ${exact ? "border-ink bg-ink" : "border-ink bg-ground"}`}
        />
      </Slider.Root>
      <p className="flex justify-between text-xs text-quiet">
        <span>{control.low}</span>
        <span>{control.high}</span>
      </p>
      <p className="mt-0.5 text-[11px] text-quiet">Turns {movesText(control, type)}.</p>
    </div>
  );
}
