import type { Processor, ProcessorType, Show } from "@/core/api/client";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import type { ChainPlace } from "./changes";

interface Props {
  show: Show;
  place: ChainPlace;
  processor: Processor;
  type: ProcessorType;
  onChange: (keys: string[]) => void;
}

/** What a processor listens to: its own sound, or sources and mixes, at one tap. */
export function KeyChoice({ show, place, processor, type, onChange }: Props) {
  const { keys } = processor;
  const before = keys[0]?.endsWith("/before") ?? false;
  const at = (thing: string, beforeChain: boolean) => (beforeChain ? `${thing}/before` : thing);
  const own = type.keyUse === "Needed" ? "nothing yet" : "its own sound";
  const others = [
    ...show.sources.filter((s) => s.id !== place.source).map((s) => ({ words: s.name, thing: `source/${s.id}` })),
    ...show.mixes.filter((m) => m.id !== place.mix).map((m) => ({ words: `The mix ${m.name}`, thing: `mix/${m.id}` })),
  ].map((o) => ({
    ...o,
    is: (key: string) => key === o.thing || key === `${o.thing}/before`,
    key: at(o.thing, before),
  }));
  const names = others.filter((o) => keys.some(o.is)).map((o) => o.words);
  return (
    <div className="grid grid-cols-[5.5rem_minmax(0,1fr)] items-center gap-x-2 gap-y-1">
      <span className="text-[13px] text-quiet">Listens to</span>
      <Menu
        trigger={
          <Button className="h-auto min-h-7 min-w-0 shrink justify-start py-1 text-left whitespace-normal! break-words">
            {names.length === 0 ? own : names.join(", ")}
          </Button>
        }
        title={
          type.keyUse === "Needed"
            ? "It acts while any of these sounds"
            : "It listens to these instead of its own sound"
        }
        items={[
          ...(type.keyUse === "Needed"
            ? []
            : [{ words: "Its own sound", chosen: keys.length === 0, onSelect: () => onChange([]) }]),
          ...others.map((o) => ({
            words: o.words,
            chosen: keys.some(o.is),
            onSelect: () => onChange(keys.some(o.is) ? keys.filter((k) => !o.is(k)) : [...keys, o.key]),
          })),
        ]}
      />
      {keys.length > 0 && (
        <>
          <span className="text-[13px] text-quiet">Taken</span>
          <Menu
            trigger={<Button className="h-7 justify-start">{before ? "before its chain" : "after its chain"}</Button>}
            items={[
              {
                words: "After its chain",
                chosen: !before,
                onSelect: () => onChange(keys.map((k) => at(k.replace(/\/before$/, ""), false))),
              },
              {
                words: "Before its chain",
                chosen: before,
                onSelect: () => onChange(keys.map((k) => at(k.replace(/\/before$/, ""), true))),
              },
            ]}
          />
        </>
      )}
    </div>
  );
}
