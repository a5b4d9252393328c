import { Wand2 } from "lucide-react";
import { useState } from "react";
import type { ChainPreset, Processor } from "@/core/api/client";
import { type ChainPlace, useChainStep, useOwnPresets } from "@/features/chains/parts";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { OwnPresetsDialog } from "./OwnPresetsDialog";

interface Props {
  place: ChainPlace;
  chain: Processor[];
  presets: ChainPreset[];
}

/** Whole chains in place of this one: those that ship, and those that people have kept; and the way to keep this one. */
export function PresetMenu({ place, chain, presets }: Props) {
  const step = useChainStep(place);
  const own = useOwnPresets().data ?? [];
  const [open, setOpen] = useState(false);
  return (
    <>
      <Menu
        trigger={
          <Button className="h-8" icon={<Wand2 size={14} />}>
            Presets
          </Button>
        }
        title="In place of this chain"
        items={[
          ...own.map((p) => ({
            words: p.name,
            hint: p.says || undefined,
            group: "Kept",
            onSelect: () => step.mutate({ kind: "own", own: p.id }),
          })),
          ...presets.map((p) => ({
            words: p.name,
            hint: p.says,
            group: "To begin with",
            onSelect: () => step.mutate({ kind: "preset", preset: p.key }),
          })),
          ...(chain.length > 0
            ? [
                {
                  words: "No processors",
                  group: "Nothing",
                  onSelect: () => step.mutate({ kind: "preset" as const, preset: null }),
                },
              ]
            : []),
          { words: "Keep this chain, and manage …", group: "Kept chains", onSelect: () => setOpen(true) },
        ]}
      />
      <OwnPresetsDialog open={open} onOpenChange={setOpen} chain={chain} />
    </>
  );
}
