import { Plus, Wand2 } from "lucide-react";
import { useState } from "react";
import type { Show } from "@/core/api/client";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { ChainLatency } from "./ChainLatency";
import { typeOf, useCatalogue } from "./catalogue";
import { type ChainPlace, chainAt, useChainStep } from "./changes";
import { ProcessorCard } from "./ProcessorCard";

/** What a sound goes through: its processors in order, with what they do now. */
export function ChainSection({ show, place }: { show: Show; place: ChainPlace }) {
  const catalogue = useCatalogue();
  const step = useChainStep(place);
  const [open, setOpen] = useState<string | null>(null);
  const chain = chainAt(show, place);
  const types = catalogue.data?.types ?? [];
  const kind = place.mix === undefined ? "source" : "mix";
  const presets = (catalogue.data?.presets ?? []).filter((p) => p.for === kind);
  return (
    <section aria-label="Chain" className="mt-2 flex flex-col gap-1.5 border-line border-t pt-2">
      <div className="flex items-baseline justify-between">
        <h3 className="text-[13px] font-semibold">Chain</h3>
        {chain.length > 0 && <ChainLatency processors={chain.map((p) => p.id)} />}
      </div>
      {chain.length === 0 && <p className="text-xs text-quiet">The sound passes as it comes.</p>}
      <ol className="flex flex-col gap-1">
        {chain.map((processor, index) => {
          const type = typeOf(types, processor.type);
          return (
            type && (
              <ProcessorCard
                key={processor.id}
                show={show}
                place={place}
                processor={processor}
                type={type}
                index={index}
                count={chain.length}
                open={open === processor.id}
                onOpen={(o) => setOpen(o ? processor.id : null)}
              />
            )
          );
        })}
      </ol>
      <div className="flex gap-1">
        <Menu
          trigger={
            <Button className="h-7" icon={<Plus size={13} />}>
              Processor
            </Button>
          }
          title="At the end of the chain"
          items={types.map((t) => ({ words: t.name, onSelect: () => step.mutate({ kind: "add", type: t.key }) }))}
        />
        <Menu
          trigger={
            <Button className="h-7" icon={<Wand2 size={13} />}>
              Preset
            </Button>
          }
          title="In place of this chain"
          items={[
            ...presets.map((p) => ({
              words: p.name,
              hint: p.says,
              onSelect: () => step.mutate({ kind: "preset", preset: p.key }),
            })),
            ...(chain.length > 0
              ? [{ words: "No processors", onSelect: () => step.mutate({ kind: "preset", preset: null }) }]
              : []),
          ]}
        />
      </div>
    </section>
  );
}

/** The ducker of one send: for that listener alone. */
export function DuckingSection({ show, source, mix }: { show: Show; source: string; mix: string }) {
  const place = { source, mix };
  const catalogue = useCatalogue();
  const step = useChainStep(place);
  const [open, setOpen] = useState(true);
  const [ducker] = chainAt(show, place);
  const type = typeOf(catalogue.data?.types ?? [], "ducker");
  const speakers = show.sources.filter((s) => s.kind === "Microphone" && s.id !== source).slice(0, 8);
  return (
    <section aria-label="Ducking" className="mt-2 flex flex-col gap-1.5 border-line border-t pt-2">
      <h3 className="text-[13px] font-semibold">Ducking, for this listener alone</h3>
      {ducker && type ? (
        <ol>
          <ProcessorCard
            show={show}
            place={place}
            processor={ducker}
            type={type}
            index={0}
            count={1}
            open={open}
            onOpen={setOpen}
          />
        </ol>
      ) : (
        <Button
          className="h-7 self-start"
          icon={<Plus size={13} />}
          onClick={() =>
            step.mutate({
              kind: "add",
              type: "ducker",
              keys: speakers.map((s) => `source/${s.id}`),
            })
          }
        >
          Duck under the microphones
        </Button>
      )}
    </section>
  );
}
