import type { Gear, Show, Source, SourceInput } from "@/core/api/client";
import type { MenuItem } from "@/shared/ui/Menu";
import { Word } from "@/shared/ui/Word";
import { awayWords } from "./away";
import { pluggedWords } from "./candidates";
import { channelWords } from "./ends";
import { useRepoint } from "./gear";
import { Note, Sentence } from "./Sentence";

/** Where a source that is a microphone, an instrument or a cable's end comes from. */
export function SourceSentence({ gear, show, source }: { gear: Gear; show: Show; source: Source }) {
  const { input } = source;
  const away = awayWords(gear, input);
  return (
    <Sentence
      name={source.name}
      points={pointsOf(source)}
      below={away ? <Note tone="wrong">{away}. It rejoins by itself.</Note> : undefined}
    >
      <strong className="font-semibold">{source.name}</strong> {words(gear, show, source)}.
    </Sentence>
  );
}

function words(gear: Gear, show: Show, source: Source) {
  const { input } = source;
  if (input.type === "device") return <FromDevice gear={gear} source={source} input={input} />;
  if (input.type === "cable") {
    const cable = show.cables.find((c) => c.id === input.cable);
    return `records ${channelWords(input.left, input.right)} of ${cable?.name ?? "a cable that is gone"}`;
  }
  if (input.type === "browser")
    return typeof input.stillPlays === "boolean"
      ? `is ${input.label}, shared by a browser, and it is ${input.stillPlays ? "heard there too" : "heard only at the desk"}`
      : `is ${input.label}, a microphone of a browser`;
  if (input.type === "everythingElse") return <Everything source={source} input={input} />;
  return "plays a sound file";
}

function FromDevice({
  gear,
  source,
  input,
}: {
  gear: Gear;
  source: Source;
  input: Extract<SourceInput, { type?: "device" }>;
}) {
  const repoint = useRepoint();
  const device = gear.devices.find((d) => d.id === input.device);
  const set = (next: SourceInput) => repoint.mutate({ source: source.id, input: next });
  const shown = (device?.inputs ?? []).map((i, c) => ({ ...i, c })).filter((i) => i.isExposed !== false);
  const channels: MenuItem[] = [
    ...shown.map((i) => ({
      words: `${i.c + 1}, as one mono voice`,
      hint: pluggedWords(i.plugged),
      group: "One",
      chosen: input.left === i.c && (input.right ?? null) === null,
      onSelect: () => set({ type: "device", device: input.device, left: i.c, loopAllowed: false }),
    })),
    ...shown
      .filter((i) => i.c % 2 === 0 && shown.some((o) => o.c === i.c + 1))
      .map((i) => ({
        words: `${channelWords(i.c, i.c + 1)}, in stereo`,
        group: "Two",
        chosen: input.left === i.c && input.right === i.c + 1,
        onSelect: () => set({ type: "device", device: input.device, left: i.c, right: i.c + 1, loopAllowed: false }),
      })),
  ];
  const stereo = (input.right ?? null) !== null;
  return (
    <>
      is {stereo ? "inputs" : "input"}{" "}
      <Word
        label={`Input of ${source.name}`}
        words={channelWords(input.left, input.right)}
        items={channels}
        note={(device?.inputs ?? []).length > shown.length ? "More inputs can be shown at the device." : undefined}
      />{" "}
      of{" "}
      <Word
        label={`Device of ${source.name}`}
        words={device?.name ?? input.device}
        items={gear.devices
          .filter((d) => (d.inputs ?? []).length > 0)
          .map((d) => ({
            words: d.name,
            hint: d.isPresent ? undefined : "unplugged",
            chosen: d.id === input.device,
            onSelect: () =>
              set({
                type: "device",
                device: d.id,
                left: Math.min(input.left, (d.inputs ?? []).length - 1),
                loopAllowed: false,
                ...(stereo && (d.inputs ?? []).length > 1 ? { right: input.right } : {}),
              }),
          }))}
      />
      , {stereo ? "in stereo" : "as one mono voice"}
    </>
  );
}

function Everything({ source, input }: { source: Source; input: Extract<SourceInput, { type?: "everythingElse" }> }) {
  const repoint = useRepoint();
  const set = (stillPlays: boolean) => repoint.mutate({ source: source.id, input: { ...input, stillPlays } });
  return (
    <>
      is everything else that plays to a device, and it is{" "}
      <Word
        label={`Where ${source.name} is heard`}
        words={input.stillPlays ? "heard there too" : "heard only at the desk"}
        items={[
          { words: "Heard there too", chosen: input.stillPlays ?? true, onSelect: () => set(true) },
          { words: "Heard only at the desk", chosen: !input.stillPlays, onSelect: () => set(false) },
        ]}
      />
    </>
  );
}

function pointsOf({ id, input }: Source): string[] {
  const sides = (left: number, right?: number | null) => [left, ...(typeof right === "number" ? [right] : [])];
  if (input.type === "device") return sides(input.left, input.right).map((c) => `device/${input.device}/in#${c}`);
  if (input.type === "cable") return sides(input.left, input.right).map((c) => `cable/${input.cable}#${c}`);
  return [`source/${id}`];
}
