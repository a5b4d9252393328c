import type { Source } from "@/core/api/client";
import { iconOf, icons, SourceSign, shapeNames, shapes, sourceColors } from "@/shared/look/sources";

/** Colour, shape and icon of a source: colour is never alone. */
export function LookField({ source, onChange }: { source: Source; onChange: (look: Source["look"]) => void }) {
  return (
    <>
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-start gap-x-2">
        <span className="text-[13px] text-quiet">Colour</span>
        <div className="flex flex-wrap gap-1">
          {sourceColors.map((color) => (
            <button
              key={color}
              type="button"
              aria-label={`Colour ${color + 1}`}
              aria-pressed={source.look.color === color}
              className={`h-5 w-5 rounded border ${source.look.color === color ? "border-ink ring-1 ring-ink" : "border-transparent"}`}
              style={{ background: `var(--source-${color})` }}
              onClick={() => onChange({ ...source.look, color })}
            />
          ))}
        </div>
      </div>
      <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-start gap-x-2">
        <span className="text-[13px] text-quiet">Shape</span>
        <div className="flex flex-wrap gap-1">
          {shapes.map((path, shape) => (
            <button
              key={path}
              type="button"
              aria-label={shapeNames[shape]}
              aria-pressed={source.look.shape === shape}
              className={`grid h-5 w-5 place-items-center rounded border ${source.look.shape === shape ? "border-ink ring-1 ring-ink" : "border-line"}`}
              onClick={() => onChange({ ...source.look, shape })}
            >
              <SourceSign source={{ look: { ...source.look, shape } }} size={12} />
            </button>
          ))}
        </div>
      </div>
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
    </>
  );
}
