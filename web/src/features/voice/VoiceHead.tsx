import { ChevronDown, Copy, Power, Repeat } from "lucide-react";
import type { ChainPreset, Processor, Show } from "@/core/api/client";
import { select, showBench } from "@/core/place/place";
import { GuidedCleanUp } from "@/features/bench";
import { ChainLatency, type ChainPlace, useChainStep } from "@/features/chains/parts";
import { SourceSign } from "@/shared/look/sources";
import { Button } from "@/shared/ui/Button";
import { Menu } from "@/shared/ui/Menu";
import { formsOf, HearRow, useAuditionEnds, WhoHears } from "./Audition";
import { InTime } from "./InTime";
import { useOnAirEnds } from "./onAir";
import { PresetMenu } from "./PresetMenu";

interface Props {
  show: Show;
  place: ChainPlace;
  chain: Processor[];
  presets: ChainPreset[];
  name: string;
}

/** Whose chain it is, and what can be done with all of it. */
export function VoiceHead({ show, place, chain, presets, name }: Props) {
  const step = useChainStep(place);
  const forms = chain.length > 0 ? formsOf(place) : formsOf(place).slice(0, 1);
  useAuditionEnds(place, chain);
  useOnAirEnds(place, chain.length === 0);
  const source = show.sources.find((s) => s.id === place.source && place.mix === undefined);
  const bypassed = chain.length > 0 && chain.every((p) => p.bypassed);
  const others = [
    ...show.sources
      .filter((s) => s.id !== place.source && s.chain.length > 0)
      .map((s) => ({ words: s.name, point: `source/${s.id}`, count: s.chain.length })),
    ...show.mixes
      .filter((m) => m.id !== place.mix && m.chain.length > 0)
      .map((m) => ({ words: `The mix ${m.name}`, point: `mix/${m.id}`, count: m.chain.length })),
  ];
  return (
    <header className="flex min-h-11 shrink-0 flex-wrap items-center gap-x-2 gap-y-1 border-line border-b px-3 py-1">
      <h1 className="text-xs font-semibold text-quiet">
        Voice <span className="font-normal max-2xl:hidden">· clean up a sound</span>
      </h1>
      <Menu
        trigger={
          <Button className="h-8 max-w-60 min-w-0" aria-label={`Whose chain: ${name}`}>
            {source && <SourceSign source={source} />}
            <span className="truncate font-semibold">{name}</span>
            <ChevronDown size={14} />
          </Button>
        }
        title="Whose chain"
        items={[
          ...show.sources.map((s) => ({
            words: s.name,
            group: "Sources",
            icon: <SourceSign source={s} />,
            chosen: s.id === place.source && place.mix === undefined,
            onSelect: () => select({ kind: "source", source: s.id }),
          })),
          ...show.mixes.map((m) => ({
            words: m.name,
            group: "Mixes",
            chosen: m.id === place.mix,
            onSelect: () => select({ kind: "mix", mix: m.id }),
          })),
        ]}
      />
      <HearRow show={show.id} place={place} name={name} forms={forms} />
      {chain.length > 0 && <WhoHears show={show.id} place={place} />}
      <ChainLatency processors={chain.map((p) => p.id)} />
      <div className="flex grow flex-wrap justify-end gap-1">
        {source && <GuidedCleanUp key={`clean ${source.id}`} show={show} source={source} />}
        {source && <InTime key={source.id} show={show} source={source} />}
        {source && (
          <Button
            className="h-8"
            icon={<Repeat size={14} />}
            title="Work on a stretch of it that goes round and round, for yourself alone"
            onClick={() => showBench("last")}
          >
            Bench
          </Button>
        )}
        <Button
          className="h-8"
          tone={bypassed ? "lit" : "plain"}
          aria-pressed={bypassed}
          disabled={chain.length === 0 || step.isPending}
          icon={<Power size={14} />}
          title="For everybody who hears it: the sound passes the whole chain unchanged, at the same time"
          onClick={() => step.mutate({ kind: "bypass", bypassed: !bypassed })}
        >
          {bypassed ? "All bypassed" : "Bypass all"}
        </Button>
        <PresetMenu place={place} chain={chain} presets={presets} />
        <Menu
          trigger={
            <Button className="h-8" icon={<Copy size={14} />} disabled={others.length === 0}>
              Copy from
            </Button>
          }
          title="The chain of another, in place of this one"
          items={others.map((o) => ({
            words: o.words,
            hint: `${o.count} ${o.count === 1 ? "processor" : "processors"}`,
            onSelect: () => step.mutate({ kind: "copy", from: o.point }),
          }))}
        />
      </div>
    </header>
  );
}
