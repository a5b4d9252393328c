import { useQueryClient } from "@tanstack/react-query";
import { AudioLines } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { watch } from "@/core/analysis/analysis";
import { answer, api, type Source, type TrimAdvice } from "@/core/api/client";
import { analysisHeaderBytes, voicePeaks } from "@/core/api/generated/live";
import { seenNow } from "@/core/commands/step";
import { tellWrong } from "@/core/notices/notices";
import { decimal, gainText } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { useChangeInput } from "./gear";
import { useGear } from "./known";

/** How long is listened, s. */
const listened = 6;
const floor = -60;

/** Where the peaks stand among the values of the topic “point”, bytes behind the header. */
const peaksAt = [16, 24];

const share = (db: number) => Math.min(1, Math.max(0, 1 - db / floor));

/** Listens to a person for some seconds, says whether it comes in low, well or hot, and offers the trim that would be good. */
export function SpeakNow({ source, onTrim }: { source: Source; onTrim: (trim: number) => void }) {
  const [state, setState] = useState<"idle" | "listening">("idle");
  const [advice, setAdvice] = useState<TrimAdvice | null>(null);
  const queries = useQueryClient();
  // An answer that comes after somebody has begun again is no answer any more.
  const turn = useRef(0);
  const ask = async (peak: number) => {
    const mine = ++turn.current;
    setState("idle");
    try {
      const { show } = await seenNow(queries);
      const path = { show, source: source.id };
      const found = await answer(
        api.GET("/api/shows/{show}/sources/{source}/trim-advice", {
          params: { path, query: { peak: Math.max(-200, peak) } },
        }),
      );
      if (turn.current === mine) setAdvice(found);
    } catch (error) {
      tellWrong(error);
    }
  };
  return (
    <div className="flex flex-col gap-1.5">
      <Button
        small
        className="h-7 self-start"
        icon={<AudioLines size={14} />}
        onClick={() => {
          turn.current++;
          setAdvice(null);
          setState(state === "idle" ? "listening" : "idle");
        }}
      >
        {state === "listening" ? "Stop listening" : advice ? "Speak again" : "Speak now: is it loud enough?"}
      </Button>
      {state === "listening" && (
        <Listening
          point={`source/${source.id}/raw`}
          trim={source.trim === "off" ? Number.NEGATIVE_INFINITY : source.trim}
          onHeard={(peak) => void ask(peak)}
        />
      )}
      {advice && (
        <Advice
          advice={advice}
          source={source}
          onTrim={(trim) => {
            onTrim(trim);
            setAdvice(null);
          }}
          onGain={() => setAdvice(null)}
        />
      )}
    </div>
  );
}

/** Listens at a point before the trim, and shows what comes behind it. */
function Listening({ point, trim, onHeard }: { point: string; trim: number; onHeard: (peak: number) => void }) {
  const bar = useRef<HTMLDivElement>(null);
  const mark = useRef<HTMLDivElement>(null);
  const told = useRef(onHeard);
  told.current = onHeard;
  const now = useRef(trim);
  now.current = trim;
  useEffect(() => {
    let loudest = Number.NEGATIVE_INFINITY;
    const stop = watch("point", point, 20, {
      values: (data) => {
        const view = new DataView(data, analysisHeaderBytes);
        const peak = Math.max(...peaksAt.map((at) => view.getFloat32(at, true)));
        loudest = Math.max(loudest, peak);
        if (bar.current) bar.current.style.transform = `scaleX(${share(peak + now.current)})`;
        if (mark.current) mark.current.style.left = `${share(loudest + now.current) * 100}%`;
      },
    });
    const over = window.setTimeout(() => told.current(loudest), listened * 1000);
    return () => {
      stop();
      window.clearTimeout(over);
    };
  }, [point]);
  return (
    <div role="status" className="flex flex-col gap-1 text-xs">
      <span>Speak now, as loud as in the show, for {listened} seconds.</span>
      <div className="relative h-2.5 overflow-hidden rounded-sm bg-line" aria-hidden="true">
        <div
          className="absolute inset-y-0 bg-strong/40"
          style={{ left: `${share(voicePeaks.from) * 100}%`, right: `${(1 - share(voicePeaks.to)) * 100}%` }}
        />
        <div ref={bar} className="absolute inset-0 origin-left bg-lamp/70" style={{ transform: "scaleX(0)" }} />
        <div ref={mark} className="absolute inset-y-0 left-0 w-0.5 bg-ink" />
      </div>
      <span className="text-quiet">
        The lighter part is where the loudest should be: {decimal(voicePeaks.from, 0)} to {decimal(voicePeaks.to, 0)}{" "}
        dBFS.
      </span>
    </div>
  );
}

function Advice({
  advice,
  source,
  onTrim,
  onGain,
}: {
  advice: TrimAdvice;
  source: Source;
  onTrim: (trim: number) => void;
  onGain: () => void;
}) {
  const gear = useGear().data;
  const change = useChangeInput();
  const { input } = source;
  const device = input.type === "device" ? gear?.devices.find((d) => d.id === input.device) : undefined;
  const wrong = advice.verdict !== "Good" && advice.verdict !== "Silent";
  return (
    <div role="status" className={`rounded-md border p-2 text-xs ${wrong ? "border-wrong" : "border-line"}`}>
      <p>
        {advice.words}
        {advice.verdict !== "Silent" && ` The loudest was ${gainText(advice.peak).replace("dB", "dBFS")}.`}
      </p>
      <div className="mt-1 flex flex-wrap gap-1.5 empty:hidden">
        {typeof advice.gain === "number" && device && input.type === "device" && (
          <Button
            small
            className="h-7"
            disabled={change.isPending}
            onClick={() =>
              change.mutate(
                { device: device.id, input: input.left, change: { gain: advice.gain as number } },
                { onSuccess: onGain },
              )
            }
          >
            Set {device.name} {input.left + 1} to {advice.gain} dB
          </Button>
        )}
        {typeof advice.trim === "number" && (
          <Button small className="h-7" onClick={() => onTrim(advice.trim as number)}>
            Set the trim to {gainText(advice.trim)}
          </Button>
        )}
      </div>
    </div>
  );
}
