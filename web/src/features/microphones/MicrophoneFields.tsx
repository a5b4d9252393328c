import { Timer } from "lucide-react";
import { answer, api, type Source, type SourceInput } from "@/core/api/client";
import { to, useStep } from "@/core/commands/step";
import { openLayer } from "@/core/place/place";
import { decimal } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Switch } from "@/shared/ui/Switch";
import { GrantedWords } from "./GrantedWords";
import { microphoneOf, useMicrophones } from "./server";
import { useTrouble } from "./trouble";

/** In the inspector: how the microphone stands, what the browser granted, and what can be done. */
export function MicrophoneFields({ source }: { source: Source }) {
  const microphones = useMicrophones(true);
  const microphone = microphoneOf(microphones.data, source);
  const trouble = useTrouble(source, microphone);
  if (source.input.type !== "browser") return null;
  const { label, left, right } = source.input;
  const channels =
    right === null || right === undefined ? `channel ${left + 1}` : `channels ${left + 1} and ${right + 1}`;
  return (
    <section aria-label="Microphone" className="mt-2 border-line border-t pt-2 text-xs">
      <p className="break-words">
        {label}, {channels}
      </p>
      {typeof source.input.stillPlays === "boolean" && <StillPlays source={source} />}
      {trouble && (
        <div
          role="status"
          className={`mt-1.5 rounded-md border p-2 ${trouble.harmless ? "border-line" : "border-wrong"}`}
        >
          <p>{trouble.words}</p>
          {trouble.action && (
            <Button className="mt-1.5" onClick={trouble.action}>
              {trouble.actionWords}
            </Button>
          )}
        </div>
      )}
      {microphone?.granted && (
        <div className="mt-1.5">
          <GrantedWords settings={microphone.granted} />
        </div>
      )}
      {microphone && (
        <dl className="mt-1.5 grid grid-cols-[1fr_auto] gap-y-1">
          <Row name="Waits here" value={microphone.latencyMs === null ? "–" : `${decimal(microphone.latencyMs)} ms`} />
          <Row name="Its clock runs" value={clockWords(microphone.clockPpm)} />
          <Row name="Gaps" value={String(microphone.gaps)} />
          {microphone.lostFrames > 0 && <Row name="Lost" value={`${decimal(microphone.lostFrames / 48)} ms`} />}
        </dl>
      )}
      <Button className="mt-2" icon={<Timer size={14} />} onClick={() => openLayer("delay")}>
        Measure the delay
      </Button>
    </section>
  );
}

/** Of shared sound: whether it is still heard where it plays. */
function StillPlays({ source }: { source: Source }) {
  const change = useStep((stillPlays: boolean, seen) =>
    answer(
      api.PATCH("/api/shows/{show}/sources/{source}", {
        ...to(seen, { source: source.id }),
        body: { input: { ...source.input, stillPlays } as SourceInput },
      }),
    ),
  );
  const { input } = source;
  if (input.type !== "browser") return null;
  return (
    <Switch label="Still heard where it plays" on={input.stillPlays ?? false} onChange={(on) => change.mutate(on)} />
  );
}

function clockWords(ppm: number | null): string {
  if (ppm === null) return "being learnt";
  const whole = Math.round(ppm);
  if (whole === 0) return "in step";
  return `${Math.abs(whole)} ppm ${whole > 0 ? "fast" : "slow"}`;
}

function Row({ name, value }: { name: string; value: string }) {
  return (
    <>
      <dt className="text-quiet">{name}</dt>
      <dd className="text-right">{value}</dd>
    </>
  );
}
