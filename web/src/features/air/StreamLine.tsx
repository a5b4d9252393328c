import { CircleDot, CircleSlash, Ellipsis, Radio, TriangleAlert } from "lucide-react";
import { useState } from "react";
import type { Air, AirStream, Show } from "@/core/api/client";
import { useGear } from "@/features/gear";
import { RenameField } from "@/shared/forms/RenameField";
import { gainText, parseGain } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Level } from "@/shared/ui/Level";
import { Menu } from "@/shared/ui/Menu";
import { ValueField } from "@/shared/ui/ValueField";
import { Word } from "@/shared/ui/Word";
import { useChangeStream, useOnOff, usePause, useRemoveStream, useSing, useStreamForms } from "./air";
import { HearBack } from "./HearBack";
import { ServerDialog } from "./ServerDialog";
import { factsWords, placeWords, rateWords, stateWords, streamForms, streamFormWords } from "./words";

/** Of what listeners see, characters. */
const longestText = 200;

/** One stream: how it stands, a sentence in which all of it can be another, and going on air. */
export function StreamLine({ show, stream, air }: { show: Show; stream: AirStream; air: Air | undefined }) {
  const { mutate, editing } = useChangeStream();
  const onOff = useOnOff();
  const remove = useRemoveStream();
  const [edited, setEdited] = useState<"name" | "title" | "description" | "song" | null>(null);
  const [asks, setAsks] = useState(false);
  const sing = useSing();
  const change = (to: Parameters<typeof mutate>[0]["change"]) => mutate({ stream: stream.id, change: to });
  const key = `stream/${stream.id}`;
  const state = air?.state ?? "Off";
  const isWanted = state !== "Off" && state !== "Refused";
  const facts = air ? factsWords(air) : "";
  const fields = {
    name: { label: `Name of the stream ${stream.name}`, value: stream.name },
    title: { label: `What listeners of ${stream.name} see`, value: stream.title },
    description: { label: `What ${stream.name} is about`, value: stream.description },
    song: { label: `What listeners of ${stream.name} hear now`, value: air?.song ?? "" },
  };
  return (
    <li aria-label={stream.name} className="border-line border-t py-2.5">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Level points={[`mix/${stream.mix}`]} flat />
        <span className="min-w-0 truncate font-semibold text-[15px]" title={stream.name}>
          {stream.name}
        </span>
        <Standing state={state} />
        <div className="grow" />
        <Button
          aria-pressed={isWanted}
          aria-label={isWanted ? `Go off air: ${stream.name}` : `Go on air: ${stream.name}`}
          disabled={onOff.isPending}
          icon={<Radio size={15} />}
          onClick={() => onOff.mutate(stream.id, !isWanted)}
        >
          {isWanted ? "Go off air" : "Go on air"}
        </Button>
        {state === "Refused" && (
          <Button disabled={onOff.isPending} onClick={() => onOff.mutate(stream.id, false)}>
            Leave it
          </Button>
        )}
        <Menu
          trigger={
            <Button
              square
              small
              tone="quiet"
              data-focus={key}
              aria-label={`More with the stream ${stream.name}`}
              icon={<Ellipsis size={15} />}
            />
          }
          items={[
            { words: "Where it goes", onSelect: () => setAsks(true) },
            { words: "Rename", onSelect: () => setEdited("name") },
            { words: "What listeners see", onSelect: () => setEdited("title") },
            { words: "What it is about", onSelect: () => setEdited("description") },
            {
              words: "Listed for everybody",
              hint: "The server may put it into public lists",
              chosen: stream.isPublic,
              onSelect: () => change({ isPublic: !stream.isPublic }),
            },
            { words: "Remove it", onSelect: () => remove.mutate(stream.id) },
          ]}
        />
      </div>
      {edited !== null && (
        <div className="max-w-md py-1">
          <RenameField
            label={fields[edited].label}
            name={fields[edited].value}
            focusKey={key}
            text={edited === "title" || edited === "description" ? longestText : undefined}
            onDone={(text) => {
              setEdited(null);
              if (text === null) return;
              if (edited === "song") sing.mutate(stream.id, text);
              else change({ [edited]: text });
            }}
          />
        </div>
      )}
      <Sentence show={show} stream={stream} air={air} change={change} editing={editing} ask={() => setAsks(true)} />
      <p role="status" className={`text-[13px] ${state === "Off" ? "sr-only" : ""}`}>
        {air?.words} {air?.check && <span className="text-quiet">To check: {air.check}</span>}
      </p>
      {(facts !== "" || isWanted) && (
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-[13px] text-quiet">
          {facts !== "" && <span>{facts}</span>}
          {isWanted && (
            <>
              <PauseWord show={show} stream={stream} air={air} />
              <button
                type="button"
                className="min-w-0 truncate underline decoration-strong decoration-dotted underline-offset-4 hover:bg-raised"
                onClick={() => setEdited("song")}
              >
                {air?.song ? `Listeners read: ${air.song}` : "Say what listeners hear"}
              </button>
              {(state === "OnAir" || state === "TooSlow") && <HearBack stream={stream} />}
              {air?.songTrouble && <span className="text-wrong">{air.songTrouble}</span>}
            </>
          )}
        </div>
      )}
      <ServerDialog stream={stream} hasPassword={air?.hasPassword ?? false} open={asks} onOpenChange={setAsks} />
    </li>
  );
}

/** The state by words and by shape. */
function Standing({ state }: { state: Air["state"] }) {
  const look = {
    Off: { icon: <CircleSlash size={14} aria-hidden="true" />, tone: "border-line text-quiet" },
    Connecting: { icon: <Radio size={14} aria-hidden="true" />, tone: "border-strong" },
    OnAir: { icon: <CircleDot size={14} aria-hidden="true" />, tone: "border-lamp bg-lamp font-semibold text-on-lamp" },
    TooSlow: { icon: <TriangleAlert size={14} aria-hidden="true" />, tone: "border-wrong text-wrong" },
    Reconnecting: { icon: <TriangleAlert size={14} aria-hidden="true" />, tone: "border-wrong text-wrong" },
    Refused: { icon: <TriangleAlert size={14} aria-hidden="true" />, tone: "border-wrong text-wrong" },
  }[state];
  return (
    <span
      className={`flex items-center gap-1.5 rounded-md border px-2 py-0.5 text-[13px] whitespace-nowrap ${look.tone}`}
    >
      {look.icon}
      {stateWords(state)}
    </span>
  );
}

interface SentenceProps {
  show: Show;
  stream: AirStream;
  air: Air | undefined;
  change: (to: Parameters<ReturnType<typeof useChangeStream>["mutate"]>[0]["change"]) => void;
  editing: (begins: boolean) => void;
  ask: () => void;
}

function Sentence({ show, stream, air, change, editing, ask }: SentenceProps) {
  const forms = useStreamForms(stream.sampleRate, stream.channels).data ?? [];
  const form = forms.find((f) => f.form === stream.form);
  return (
    <div className="flex flex-wrap items-baseline gap-x-1 text-[14px] leading-7">
      <span>sends</span>
      <Word
        label={`What ${stream.name} sends`}
        words={show.mixes.find((m) => m.id === stream.mix)?.name ?? "a mix that is gone"}
        items={show.mixes.map((m) => ({
          words: m.name,
          chosen: m.id === stream.mix,
          onSelect: () => change({ mix: m.id }),
        }))}
      />
      <span>at</span>
      <ValueField
        bare
        label={`Level of ${stream.name}`}
        value={stream.gain}
        show={gainText}
        read={parseGain}
        allowed="-120 to 12 dB, or off"
        onChange={(gain) => change({ gain })}
        onEditing={editing}
        className="!h-6 w-20"
      />
      <span>to</span>
      <button
        type="button"
        aria-label={`Where ${stream.name} goes: ${placeWords(stream.server)}`}
        className="max-w-full min-w-0 truncate font-medium underline decoration-strong decoration-dotted underline-offset-4 hover:bg-raised"
        title={placeWords(stream.server)}
        onClick={ask}
      >
        {placeWords(stream.server)}
      </button>
      {air && !air.hasPassword && <span className="text-[13px] text-quiet">(no password is kept)</span>}
      <span>as</span>
      <Word
        label={`What ${stream.name} is encoded as`}
        words={streamFormWords(stream.form)}
        items={streamForms.map((f) => ({
          words: f.words,
          hint: f.hint,
          chosen: f.form === stream.form,
          onSelect: () => change(fitted(f.form, forms, stream)),
        }))}
      />
      {stream.kilobits > 0 && (
        <>
          <span>with</span>
          <Word
            label={`Bit rate of ${stream.name}`}
            words={`${stream.kilobits} kbit/s`}
            items={(form?.offers ?? []).map((o) => ({
              words: `${o.kilobits} kbit/s`,
              hint: o.words,
              chosen: o.kilobits === stream.kilobits,
              onSelect: () => change({ kilobits: o.kilobits }),
            }))}
          />
        </>
      )}
      <Word
        label={`Channels of ${stream.name}`}
        words={stream.channels === 1 ? "in mono" : "in stereo"}
        items={[2, 1].map((channels) => ({
          words: channels === 1 ? "in mono" : "in stereo",
          hint: channels === 1 ? "The mean of both sides: all the bits for one" : "Both sides",
          chosen: channels === stream.channels,
          onSelect: () => change({ channels }),
        }))}
      />
      {(form?.sampleRates.length ?? 0) > 1 && (
        <>
          <span>at</span>
          <Word
            quiet={stream.sampleRate === 48_000}
            label={`Sample rate of ${stream.name}`}
            words={rateWords(stream.sampleRate)}
            items={(form?.sampleRates ?? []).map((sampleRate) => ({
              words: rateWords(sampleRate),
              chosen: sampleRate === stream.sampleRate,
              onSelect: () => change({ sampleRate }),
            }))}
          />
        </>
      )}
      {air && <span className="text-[13px] text-quiet">{air.sound}.</span>}
      <SongTeller stream={stream} change={change} />
    </div>
  );
}

/** Who says what listeners read: a person, or a program that plays music. */
function SongTeller({ stream, change }: Pick<SentenceProps, "stream" | "change">) {
  const apps = useGear().data?.apps ?? [];
  const teller = apps.find((a) => a.id === stream.songFrom);
  const now = stream.songFrom === null ? "You say" : `${teller?.name ?? "A program that is not here"} says`;
  return (
    <span>
      <Word
        quiet={stream.songFrom === null}
        label={`Who says what listeners of ${stream.name} read`}
        words={now}
        items={[
          { words: "You say", chosen: stream.songFrom === null, onSelect: () => change({ song: {} }) },
          ...apps
            .filter((a) => a.kind === "Music")
            .map((a) => ({
              words: `${a.name} says`,
              hint: "What it plays, whenever it plays something else",
              chosen: a.id === stream.songFrom,
              onSelect: () => change({ song: { app: a.id } }),
            })),
        ]}
      />{" "}
      what listeners read.
    </span>
  );
}

/** A form with a bit rate and a sample rate that it can have. */
function fitted(
  form: AirStream["form"],
  forms: NonNullable<ReturnType<typeof useStreamForms>["data"]>,
  stream: AirStream,
) {
  const now = forms.find((f) => f.form === form);
  const rate = now?.sampleRates.includes(stream.sampleRate) ? stream.sampleRate : 48_000;
  const can = now && stream.kilobits >= now.leastKilobits && stream.kilobits <= now.mostKilobits;
  const kilobits = now?.mostKilobits === 0 ? 0 : can && stream.kilobits > 0 ? stream.kilobits : 128;
  return { form, sampleRate: rate, kilobits };
}

function PauseWord({ show, stream, air }: { show: Show; stream: AirStream; air: Air | undefined }) {
  const pause = usePause();
  const now = air?.pause;
  const source = show.sources.find((s) => s.id === now?.source);
  return (
    <Word
      label={`What listeners of ${stream.name} get`}
      words={now ? (source ? `paused: they hear ${source.name}` : "paused: they hear silence") : "the mix goes out"}
      items={[
        { words: "The mix", chosen: !now, onSelect: () => pause.mutate(stream.id, undefined) },
        {
          words: "Silence",
          group: "Pause with",
          chosen: now !== null && now !== undefined && !now.source,
          onSelect: () => pause.mutate(stream.id, null),
        },
        ...show.sources.map((s) => ({
          words: s.name,
          group: "Pause with",
          chosen: now?.source === s.id,
          onSelect: () => pause.mutate(stream.id, s.id),
        })),
      ]}
    />
  );
}
