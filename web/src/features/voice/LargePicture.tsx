import { useState } from "react";
import type { Processor, ProcessorType } from "@/core/api/client";
import { type ChainPlace, type useTurning, useValues } from "@/features/chains/parts";
import { decimal, signed } from "@/shared/look/format";
import { useCurve } from "./curve";
import { Facts } from "./Facts";
import { type Handle, Handles } from "./Handles";
import { LevelPicture } from "./LevelPicture";
import { useDynamics } from "./looks";
import { ResponsePicture } from "./ResponsePicture";
import { StereoFacts } from "./StereoFacts";
import { pointBefore } from "./stages";
import { TransferPicture } from "./TransferPicture";

interface Props {
  place: ChainPlace;
  chain: Processor[];
  processor: Processor;
  type: ProcessorType;
  index: number;
  color: string;
  turning: ReturnType<typeof useTurning>;
}

type WithValues = Props & { values: Record<string, number> };

const bands = 4;

/** The chosen processor large, drawn from the running sound. */
export function LargePicture(props: Props) {
  const { processor, type } = props;
  const values = useValues(processor, type);
  if (type.reduces) return <DynamicsPicture key={processor.id} {...props} values={values} />;
  return <FilterPicture key={processor.id} {...props} values={values} />;
}

function FilterPicture({ place, chain, processor, type, index, color, turning, values }: WithValues) {
  const curve = useCurve(type.key, values);
  const [lit, setLit] = useState<number | null>(null);
  const handles = handlesOf(type, values);
  return (
    <div className="flex h-full min-h-0 flex-col gap-2">
      <div className="min-h-0 grow">
        <ResponsePicture
          label={`${type.name}: what it does over frequency, over what goes in and comes out now`}
          color={color}
          before={pointBefore(place, chain, index)}
          after={`stage/${processor.id}`}
          curve={curve}
          parts={type.key === "exciter" ? "heard" : "bands"}
          change={type.key === "exciter" ? { of: `change/${processor.id}`, words: "added" } : undefined}
          lit={handles[lit ?? -1]?.band ?? null}
        >
          <Handles
            type={type}
            handles={handles}
            values={values}
            onTurn={turning.turn}
            onLetGo={turning.letGo}
            onStore={turning.store}
            onLit={setLit}
          />
        </ResponsePicture>
      </div>
      {type.key === "utility" ? (
        <StereoFacts before={pointBefore(place, chain, index)} after={`stage/${processor.id}`} />
      ) : (
        <Facts type={type} values={values} />
      )}
    </div>
  );
}

/** What lies on the response of a type, to be dragged. */
function handlesOf(type: ProcessorType, values: Record<string, number>): (Handle & { band: number | null })[] {
  switch (type.key) {
    case "equaliser":
      return Array.from({ length: bands }, (_, i) => i + 1).flatMap((n) => {
        const shape = values[`shape${n}`] ?? 0;
        if (shape === 0) return [];
        const words = type.parameters.find((p) => p.key === `shape${n}`)?.choices?.[shape] ?? "";
        const notch = words === "Notch";
        return {
          key: `band${n}`,
          band: n - 1,
          words: `Band ${n}, ${words.toLowerCase()}`,
          sign: String(n),
          frequency: `frequency${n}`,
          gain: notch ? undefined : `gain${n}`,
          q: `q${n}`,
          kind: `shape${n}`,
          rests: -15,
        };
      });
    case "lowCut":
    case "highCut":
      return [{ key: "cut", band: null, words: type.name, sign: "⌐", frequency: "frequency", rests: -3 }];
    case "exciter":
      return [
        { key: "low", band: 0, words: "Low band", sign: "L", frequency: "lowFrequency", rests: -3 },
        { key: "high", band: 1, words: "High band", sign: "H", frequency: "highFrequency", rests: -3 },
      ];
    default:
      return [];
  }
}

function DynamicsPicture({ place, chain, processor, type, index, color, turning, values }: WithValues) {
  const curve = useCurve(type.key, values);
  const dynamics = useDynamics(processor.id);
  const threshold = type.parameters.find((p) => p.key === "threshold");
  const onLevels = type.key === "gate" || type.key === "compressor" || type.key === "ducker";
  const line =
    threshold && onLevels
      ? {
          parameter: threshold,
          value: values.threshold ?? threshold.default,
          onTurn: (value: number) => turning.turn({ threshold: value }),
          onLetGo: turning.letGo,
        }
      : undefined;
  const levels = (
    <LevelPicture
      label={`${type.name}: the last eight seconds`}
      color={color}
      dynamics={dynamics}
      line={line}
      hysteresis={type.key === "gate" ? values.hysteresis : undefined}
      distribution={onLevels}
      gate={type.key === "gate"}
      levels={onLevels ? "heard" : "through"}
    />
  );
  const transfer = (
    <TransferPicture
      label={`${type.name}: what comes out for what goes in, and where the sound is on it now`}
      color={color}
      curve={curve}
      dynamics={dynamics}
      up={type.key === "deEsser" || type.key === "ducker" ? "change" : "out"}
    />
  );
  return (
    <div className="flex h-full min-h-0 flex-col gap-2">
      {type.key === "deEsser" && (
        <div className="min-h-0 grow basis-1/2">
          <ResponsePicture
            label="Sibilance and the rest, over what goes in and comes out now"
            color={color}
            before={pointBefore(place, chain, index)}
            after={`stage/${processor.id}`}
            curve={curve}
            parts="heard"
            change={{ of: `change/${processor.id}`, words: "taken away" }}
          >
            <Handles
              type={type}
              handles={[
                { key: "split", words: "Where sibilance begins", sign: "S", frequency: "frequency", rests: -6 },
              ]}
              values={values}
              onTurn={turning.turn}
              onLetGo={turning.letGo}
              onStore={turning.store}
              onLit={() => {}}
            />
          </ResponsePicture>
        </div>
      )}
      <div className="flex min-h-0 grow basis-1/2 gap-2">
        <div className="aspect-square h-full min-w-0 shrink-0 max-lg:hidden max-h-full" style={{ maxWidth: "42%" }}>
          {transfer}
        </div>
        <div className="min-w-0 grow">{levels}</div>
      </div>
      <Facts type={type} values={values} dynamics={dynamics} quiet={liftOf(type, curve)} />
    </div>
  );
}

/** What becomes of what is quiet: by how much the room is lifted, in words; null: nothing. */
function liftOf(type: ProcessorType, curve: ReturnType<typeof useCurve>): string | null {
  const transfer = curve?.transfer;
  if (!transfer || (type.key !== "compressor" && type.key !== "limiter")) return null;
  const lift = (transfer.out[0] ?? 0) - (transfer.in[0] ?? 0);
  if (Math.abs(lift) < 0.05) return "What is quiet, the room too, stays as loud as it is.";
  return `What is quiet comes out ${signed(lift)} dB: the noise of the room ${lift > 0 ? "is lifted by as much" : "too"}${lift > 0 ? "" : `, ${decimal(-lift)} dB softer`}.`;
}
