import type { ReactNode } from "react";
import { SourceSign, shapeNames, shapes, sourceColors } from "./sources";

/** What tells things apart by sight. */
interface Look {
  color: number;
  shape: number;
}

/** Colour and shape, which is never colour alone; and what more belongs to a look. */
export function LookField<T extends Look>(props: { look: T; onChange: (look: T) => void; children?: ReactNode }) {
  const { look, onChange, children } = props;
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
              aria-pressed={look.color === color}
              className={`h-5 w-5 rounded border ${look.color === color ? "border-ink ring-1 ring-ink" : "border-transparent"}`}
              style={{ background: `var(--source-${color})` }}
              onClick={() => onChange({ ...look, color })}
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
              aria-pressed={look.shape === shape}
              className={`grid h-5 w-5 place-items-center rounded border ${look.shape === shape ? "border-ink ring-1 ring-ink" : "border-line"}`}
              onClick={() => onChange({ ...look, shape })}
            >
              <SourceSign source={{ look: { ...look, shape } }} size={12} />
            </button>
          ))}
        </div>
      </div>
      {children}
    </>
  );
}
