import { X } from "lucide-react";
import { type ReactNode, useEffect, useRef } from "react";
import { takeEntry, useEntry } from "@/core/place/entry";
import { closeInspector, usePlace } from "@/core/place/place";
import { Button } from "./Button";

/** The numbers of what is selected, to read and to type. Escape closes it, and goes back to what it is about. */
export function InspectorPanel({ title, of, children }: { title: string; of: string; children: ReactNode }) {
  const panel = useRef<HTMLElement>(null);
  const entry = useEntry((s) => s.count);
  const selection = usePlace((p) => p.selection);
  // biome-ignore lint/correctness/useExhaustiveDependencies: whoever came by keys goes in, also where it was open already
  useEffect(() => {
    if (takeEntry()) panel.current?.focus();
  }, [entry, selection]);
  return (
    <aside
      ref={panel}
      tabIndex={-1}
      aria-label={`Inspector: ${title}`}
      className="w-72 shrink-0 overflow-auto border-line bg-surface p-3 -outline-offset-2 max-md:fixed max-md:inset-x-0 max-md:bottom-14 max-md:z-30 max-md:max-h-[calc(55*var(--vh))] max-md:w-auto max-md:border-t max-md:shadow-2xl md:border-l"
      onKeyDown={(e) => {
        if (e.key !== "Escape" || e.defaultPrevented) return;
        e.preventDefault();
        closeInspector();
      }}
    >
      <div className="mb-3 flex items-start gap-2">
        <div className="min-w-0 grow">
          <p className="text-xs text-quiet">{of}</p>
          <h2 className="font-semibold break-words">{title}</h2>
        </div>
        <Button
          tone="quiet"
          square
          className="-mt-1 -mr-1"
          aria-label="Close the inspector"
          icon={<X size={15} />}
          onClick={closeInspector}
        />
      </div>
      <div className="flex flex-col gap-2">{children}</div>
    </aside>
  );
}
