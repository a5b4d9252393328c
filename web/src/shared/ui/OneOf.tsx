import { ChevronDown } from "lucide-react";
import { Menu } from "./Menu";
import { resting } from "./resting";

export interface Option<T> {
  value: T;
  words: string;
  /** Options of one group stand together below its name. */
  group?: string;
}

interface Props<T> {
  label: string;
  /** Undefined: nothing is chosen, and `empty` is shown. */
  value?: T;
  empty?: string;
  options: readonly Option<T>[];
  disabled?: boolean;
  onChange: (value: T) => void;
  className?: string;
}

/** One of a few: opened, chosen, and only then done. Arrows and letters on it while it is closed change nothing. */
export function OneOf<T>({ label, value, empty = "", options, disabled, onChange, className = "" }: Props<T>) {
  const chosen = options.find((o) => o.value === value);
  return (
    <Menu
      disabled={disabled}
      trigger={
        <button
          type="button"
          {...resting(disabled)}
          aria-label={chosen ? `${label}: ${chosen.words}` : label}
          className={`flex h-8 max-w-full min-w-0 items-center gap-1.5 rounded-md border border-line bg-ground px-2 text-left text-[13px] hover:border-strong aria-disabled:opacity-50 ${className}`}
        >
          <span className="min-w-0 grow truncate">{chosen?.words ?? empty}</span>
          <ChevronDown size={14} className="shrink-0 text-quiet" aria-hidden="true" />
        </button>
      }
      items={options.map((o) => ({
        words: o.words,
        group: o.group,
        chosen: value === undefined ? undefined : o === chosen,
        onSelect: () => onChange(o.value),
      }))}
    />
  );
}
