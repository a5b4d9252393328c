import { useEffect } from "react";
import type { ChainPreset, ProcessorType, Show } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { usePlace } from "@/core/place/place";
import { Bench } from "@/features/bench";
import { type ChainPlace, chainAt, typeOf, useCatalogue, useChainStep } from "@/features/chains/parts";
import { colorOf } from "@/shared/look/sources";
import { Button } from "@/shared/ui/Button";
import { Failed, faultOf, Loading, State } from "@/shared/ui/State";
import { ChainTrack } from "./ChainTrack";
import { Chosen } from "./Chosen";
import { useOrderNotes } from "./curve";
import { placeOf, pointOf } from "./stages";
import { VoiceHead } from "./VoiceHead";

/** What was shown last in this window: who comes back finds it again. */
let last: ChainPlace | null = null;

/** The workshop: one chain at a time, live. */
export function Voice() {
  const show = useShow();
  const catalogue = useCatalogue();
  const selection = usePlace((p) => p.selection);
  const bench = usePlace((p) => p.bench);
  const fault = faultOf(catalogue);
  const place = show.data ? placeOf(show.data, selection, last) : null;
  useEffect(() => {
    last = place;
  });
  if (fault) return <Failed error={fault} retry={() => void catalogue.refetch()} />;
  if (!show.data || !catalogue.data) return <Loading what="the chains" />;
  if (!place)
    return (
      <State
        title="There is no sound to clean up yet"
        words="Add a source on the Desk: a microphone, a program, a file."
      />
    );
  const source = place.mix === undefined ? show.data.sources.find((s) => s.id === place.source) : undefined;
  const { types, presets } = catalogue.data;
  if (bench !== null && source)
    return (
      <Bench
        key={source.id}
        show={show.data}
        source={source}
        bench={bench}
        types={types}
        presets={presets.filter((p) => p.for === "source")}
      />
    );
  return <Workshop show={show.data} place={place} types={catalogue.data.types} presets={catalogue.data.presets} />;
}

interface Props {
  show: Show;
  place: ChainPlace;
  types: ProcessorType[];
  presets: ChainPreset[];
}

function Workshop({ show, place, types, presets }: Props) {
  const chain = chainAt(show, place);
  const stage = usePlace((p) => p.stage);
  const source = place.mix === undefined ? show.sources.find((s) => s.id === place.source) : undefined;
  const name = source?.name ?? show.mixes.find((m) => m.id === place.mix)?.name ?? "";
  const color = source ? colorOf(source) : "var(--ink)";
  const notes = useOrderNotes(pointOf(place));
  const found = chain.findIndex((p) => p.id === stage);
  const index = found < 0 ? 0 : found;
  const chosen = chain[index];
  const type = chosen && typeOf(types, chosen.type);
  const offered = presets.filter((p) => p.for === (source ? "source" : "mix"));
  return (
    <div className="flex h-full min-h-0 flex-col">
      <VoiceHead show={show} place={place} chain={chain} presets={offered} name={name} />
      <ChainTrack
        show={show}
        place={place}
        chain={chain}
        types={types}
        notes={notes}
        chosen={chosen?.id ?? null}
        color={color}
      />
      {chosen && type ? (
        <Chosen
          key={`${pointOf(place)} ${chosen.id}`}
          show={show}
          place={place}
          chain={chain}
          index={index}
          type={type}
          notes={notes.filter((n) => n.processor === chosen.id)}
          color={color}
        />
      ) : (
        <Empty place={place} presets={offered} />
      )}
    </div>
  );
}

/** Nothing stands in the chain yet: what there is to begin with. */
function Empty({ place, presets }: { place: ChainPlace; presets: ChainPreset[] }) {
  const step = useChainStep(place);
  return (
    <div className="min-h-0 grow overflow-auto p-6">
      <h2 className="text-lg font-semibold">The sound passes as it comes</h2>
      <p className="mt-1 max-w-prose text-quiet">
        Begin with a whole chain, and change it until it fits; or add one processor at a time. Small amounts are enough,
        and every step can be taken back.
      </p>
      <ul className="mt-4 grid gap-2 sm:grid-cols-2 xl:grid-cols-3">
        {presets.map((preset) => (
          <li key={preset.key} className="flex flex-col rounded-md border border-line bg-surface p-3">
            <h3 className="font-semibold">{preset.name}</h3>
            <p className="mt-0.5 mb-2 grow text-[13px] text-quiet">{preset.says}</p>
            <Button
              className="self-start"
              disabled={step.isPending}
              onClick={() => step.mutate({ kind: "preset", preset: preset.key })}
            >
              Begin with it
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}
