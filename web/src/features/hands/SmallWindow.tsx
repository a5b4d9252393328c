import { Bookmark, Circle, MicOff, Square, VolumeX } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { createPortal } from "react-dom";
import type { Show } from "@/core/api/client";
import { MixMeter } from "@/core/api/generated/live";
import { pressKey, releaseKey, releaseKeys } from "@/core/hands/keyboard";
import { perform } from "@/core/hands/perform";
import { meters, onPaint } from "@/core/meters/meters";
import { usePromises } from "@/features/promises";
import { useTakes } from "@/features/takes";
import { decimal, duration } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { HoldButton } from "@/shared/ui/HoldButton";
import { useHands } from "./hands";
import { useSmallWindow } from "./small";

/** What one needs while a game fills the screen: hush, cough, record, promises, three lanes' loudness. */
export function SmallWindow({ show }: { show: Show }) {
  const small = useSmallWindow((s) => s.window);
  useEffect(() => {
    if (!small) return;
    const up = (e: KeyboardEvent) => releaseKey(e.code);
    small.addEventListener("keydown", pressKey);
    small.addEventListener("keyup", up);
    small.addEventListener("blur", releaseKeys);
    return () => {
      small.removeEventListener("keydown", pressKey);
      small.removeEventListener("keyup", up);
      small.removeEventListener("blur", releaseKeys);
    };
  }, [small]);
  return small ? createPortal(<Inside show={show} />, small.document.body) : null;
}

function Inside({ show }: { show: Show }) {
  const [{ hushed, recording }, setFlags] = useState({ hushed: false, recording: false });
  useEffect(() => {
    // The page behind may not be seen, and then draws no pictures.
    const look = () =>
      setFlags((old) => {
        const [h, r] = [meters.frame?.hushed ?? false, meters.frame?.recording ?? false];
        return old.hushed === h && old.recording === r ? old : { hushed: h, recording: r };
      });
    look();
    const timer = setInterval(look, 100);
    return () => clearInterval(timer);
  }, []);
  const promises = usePromises().data?.promises ?? [];
  const broken = promises.filter((p) => p.state === "Broken");
  const marks = useTakes().data?.find((t) => t.state === "Recording")?.marks ?? [];
  const last = marks.at(-1);
  const holds = useHands().data?.holds ?? [];
  const voices = show.sources.filter((s) => s.kind === "Microphone").slice(0, 3);
  return (
    <div className="flex h-full flex-col gap-2 overflow-auto p-2">
      <div className="flex gap-2">
        <Button
          tone={hushed ? "lamp" : "plain"}
          aria-pressed={hushed}
          className="h-9 grow"
          icon={<VolumeX size={15} />}
          onClick={() => perform("hush", { value: hushed ? "off" : "on" })}
        >
          {hushed ? "Hushed" : "Hush"}
        </Button>
        <Button
          tone={recording ? "lit" : "plain"}
          aria-pressed={recording}
          className="h-9 grow"
          icon={recording ? <Square size={12} fill="currentColor" /> : <Circle size={12} fill="currentColor" />}
          onClick={() => perform("record", { value: recording ? "off" : "on" })}
        >
          {recording ? "Stop" : "Record"}
        </Button>
      </div>
      {recording && (
        <div className="flex items-center gap-2">
          <Button className="h-9" icon={<Bookmark size={14} />} onClick={() => perform("mark")}>
            Mark
          </Button>
          <span role="status" className="min-w-0 truncate text-xs text-quiet">
            {last
              ? `${marks.length === 1 ? "1 mark" : `${marks.length} marks`}, the last at ${duration(last.at)} ${last.words}`
              : "no mark yet"}
          </span>
        </div>
      )}
      {voices.length > 1 && <p className="-mb-1 text-xs text-quiet">Hold to cough</p>}
      <div className="flex flex-wrap gap-2">
        {voices.map((voice) => (
          <HoldButton
            key={voice.id}
            label={`Cough ${voice.name}`}
            title="Hold it"
            className="flex h-9 min-w-20 grow items-center justify-center gap-1.5 rounded-md border border-line bg-raised px-2 text-[13px]"
            heldClassName="border-lamp text-lamp-ink"
            onHold={(on) => perform(`source/${voice.id}/cough`, { value: on ? "on" : "off" })}
          >
            <MicOff size={14} className="shrink-0" aria-hidden="true" />
            <span className="truncate">{voices.length > 1 ? voice.name : `Cough ${voice.name}`}</span>
          </HoldButton>
        ))}
      </div>
      {holds.map((h) => (
        <p key={h.address} role="status" className="rounded border border-lamp px-2 py-0.5 text-xs">
          {h.words}
        </p>
      ))}
      <p className={`text-xs ${broken.length > 0 ? "text-wrong" : "text-quiet"}`} role="status">
        {broken.length > 0
          ? `Broken: ${broken[0]?.sentence}.`
          : `${promises.filter((p) => p.state === "Kept").length} of ${promises.length} promises kept`}
      </p>
      <dl className="flex flex-col gap-0.5 text-[13px]">
        {show.mixes.slice(0, 3).map((mix) => (
          <div key={mix.id} className="flex items-baseline gap-2">
            <dt className="min-w-0 grow truncate">{mix.name}</dt>
            <dd className="shrink-0">
              <Loudness mix={mix.id} />
            </dd>
          </div>
        ))}
      </dl>
    </div>
  );
}

function Loudness({ mix }: { mix: string }) {
  const text = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const draw = () => {
      const loudness = meters.mix(mix, MixMeter.shortTerm);
      if (text.current) text.current.textContent = Number.isFinite(loudness) ? `${decimal(loudness)} LUFS` : "−∞ LUFS";
    };
    const timer = setInterval(draw, 200);
    const end = onPaint(draw);
    return () => {
      clearInterval(timer);
      end();
    };
  }, [mix]);
  return <span ref={text}>−∞ LUFS</span>;
}
