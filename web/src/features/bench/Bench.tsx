import { useEffect, useState } from "react";
import type { ChainPreset, Loop, ProcessorType, Show, Source } from "@/core/api/client";
import { showBench } from "@/core/place/place";
import { useBenchUndo, useLoops } from "@/features/chains/parts";
import { listen, useListening } from "@/features/listen";
import { colorOf } from "@/shared/look/sources";
import { Choice } from "@/shared/ui/Choice";
import { Failed, faultOf, Loading } from "@/shared/ui/State";
import { BenchHead } from "./BenchHead";
import { Blind } from "./Blind";
import { Compare } from "./Compare";
import { type LoopPosition, newLoop, plain, useFollowLoops, useLoopRuns } from "./loops";
import { TakeFirst } from "./TakeFirst";
import { VariantChain } from "./VariantChain";
import { Variants } from "./Variants";

interface Props {
  show: Show;
  source: Source;
  bench: string;
  types: ProcessorType[];
  presets: ChainPreset[];
}

/** The bench: a stretch of a source's sound goes round through several chains, for this window alone. */
export function Bench({ show, source, bench, types, presets }: Props) {
  useFollowLoops();
  const loops = useLoops(show.id);
  const fault = faultOf(loops);
  useEffect(
    () => () => {
      if (useListening.getState().wish.bench) void listen({});
    },
    [],
  );
  if (fault) return <Failed error={fault} retry={() => void loops.refetch()} />;
  if (!loops.data) return <Loading what="the bench" />;
  const own = loops.data.filter((l) => l.source === source.id);
  const loop = own.find((l) => l.id === bench) ?? (bench === newLoop ? undefined : own[0]);
  return (
    <div className="flex h-full min-h-0 flex-col">
      <BenchHead show={show} source={source} loops={own} loop={loop} />
      {loop ? (
        <OnBench key={loop.id} show={show} source={source} loop={loop} types={types} presets={presets} />
      ) : (
        <TakeFirst show={show.id} source={source} onTaken={(taken) => showBench(taken.id)} />
      )}
    </div>
  );
}

const views = [
  { value: "chain", words: "Chain" },
  { value: "compare", words: "Compare" },
  { value: "blind", words: "Blind" },
] as const;
type View = (typeof views)[number]["value"];

interface OnBenchProps {
  show: Show;
  source: Source;
  loop: Loop;
  types: ProcessorType[];
  presets: ChainPreset[];
}

function OnBench({ show, source, loop, types, presets }: OnBenchProps) {
  // The one that was made last is the one that is worked on.
  const [chosen, setChosen] = useState(loop.variants.at(-1)?.id ?? plain);
  const [view, setView] = useState<View>("chain");
  const [position] = useState<LoopPosition>({ share: 0 });
  useBenchUndo(show.id, loop.id);
  const variant = loop.variants.find((v) => v.id === chosen) ?? loop.variants[0];
  const color = colorOf(source);
  return (
    <>
      {/* First of all: what is looked at below is there once the bench runs. */}
      <Runs loop={loop.id} position={position} />
      <div className="flex shrink-0 flex-wrap items-start gap-x-3 gap-y-1 border-line border-b px-3 py-1.5">
        {view !== "blind" && (
          <Variants
            show={show.id}
            source={source.name}
            loop={loop}
            presets={presets}
            chosen={variant?.id ?? plain}
            onChoose={setChosen}
          />
        )}
        <div className="ml-auto">
          <Choice label="What of the bench" value={view} options={views} onChange={setView} />
        </div>
      </div>
      {view === "chain" && variant && (
        <VariantChain key={variant.id} show={show} loop={loop} variant={variant} types={types} color={color} />
      )}
      {view === "chain" && !variant && (
        <p className="p-6 text-quiet">
          There is no variant yet. Add one: a copy of the chain as it is now, or a preset.
        </p>
      )}
      {view === "compare" && <Compare show={show.id} loop={loop} variant={variant} position={position} color={color} />}
      {view === "blind" && <Blind show={show.id} loop={loop} />}
    </>
  );
}

function Runs({ loop, position }: { loop: string; position: LoopPosition }) {
  useLoopRuns(loop, position);
  return null;
}
