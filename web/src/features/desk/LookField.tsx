import type { Source } from "@/core/api/client";
import { LookField } from "@/shared/look/LookField";
import { iconOf, icons } from "@/shared/look/sources";

/** Colour, shape and icon of a source. */
export function SourceLookField({ source, onChange }: { source: Source; onChange: (look: Source["look"]) => void }) {
  return (
    <LookField look={source.look} onChange={onChange}>
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-start gap-x-2">
        <span className="text-[13px] text-quiet">Icon</span>
        <div className="flex flex-wrap gap-1">
          {icons.map(([name, Icon]) => (
            <button
              key={name}
              type="button"
              aria-label={`Icon: ${name.toLowerCase()}`}
              aria-pressed={iconOf(source) === Icon}
              className={`grid h-5 w-5 place-items-center rounded border ${iconOf(source) === Icon ? "border-ink ring-1 ring-ink" : "border-line"}`}
              onClick={() => onChange({ ...source.look, icon: name })}
            >
              <Icon size={12} />
            </button>
          ))}
        </div>
      </div>
    </LookField>
  );
}
