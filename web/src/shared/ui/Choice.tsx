import { ToggleGroup } from "radix-ui";
import type { ReactNode } from "react";

interface Props<T extends string> {
  label: string;
  value: T;
  options: readonly { value: T; words: string; icon?: ReactNode }[];
  onChange: (value: T) => void;
}

/** One of a few, all of them in sight. */
export function Choice<T extends string>({ label, value, options, onChange }: Props<T>) {
  return (
    <ToggleGroup.Root
      type="single"
      value={value}
      onValueChange={(v) => v && onChange(v as T)}
      aria-label={label}
      className="inline-flex flex-wrap rounded-md border border-line bg-ground p-0.5"
    >
      {options.map((o) => (
        <ToggleGroup.Item
          key={o.value}
          value={o.value}
          className="inline-flex h-6.5 items-center gap-1.5 rounded px-2 text-xs text-quiet hover:text-ink data-[state=on]:bg-raised data-[state=on]:text-ink data-[state=on]:shadow-sm"
        >
          {o.icon}
          {o.words}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
