import { Circle, LogOut, MicOff, SkipForward, Square, VolumeX } from "lucide-react";
import { type CSSProperties, useEffect, useState } from "react";
import { PadBody } from "@/features/pads/parts";
import { decibels, gainText } from "@/shared/look/format";
import { shapes } from "@/shared/look/sources";
import { Button } from "@/shared/ui/Button";
import { HoldButton } from "@/shared/ui/HoldButton";
import { act, type BoardState, type Look, leave, soundOf, useSecond } from "./board";

/** What this device was given: pads as wide bars, cough, cues, lanes. */
export function BoardView({ board }: { board: BoardState }) {
  const { state, wrong } = useSecond();
  const { rights } = board;
  const isEmpty =
    !rights.pads && !rights.cues && !rights.hush && !rights.record && board.voices.length + board.lanes.length === 0;
  return (
    <div className="flex h-full flex-col">
      <header className="flex items-center gap-2 border-line border-b bg-surface px-3 py-2">
        <h1 className="min-w-0 grow truncate text-lg font-semibold">{board.show}</h1>
        {rights.hush && (
          <Button
            tone={board.hushed ? "lamp" : "plain"}
            aria-pressed={board.hushed}
            className="h-10"
            icon={<VolumeX size={16} />}
            onClick={() => act("hush", board.hushed ? "off" : "on")}
          >
            {board.hushed ? "Hushed" : "Hush"}
          </Button>
        )}
        {rights.record && (
          <Button
            tone={board.recording ? "lit" : "plain"}
            aria-pressed={board.recording}
            className="h-10"
            icon={board.recording ? <Square size={13} fill="currentColor" /> : <Circle size={13} fill="currentColor" />}
            onClick={() => act("record", board.recording ? "off" : "on")}
          >
            {board.recording ? "Stop" : "Record"}
          </Button>
        )}
        <Button
          tone="quiet"
          square
          className="h-10"
          aria-label="Leave"
          icon={<LogOut size={16} />}
          onClick={() => void leave()}
        />
      </header>
      <p role="status" className="text-[13px]">
        {state === "away" && (
          <span className="block border-wrong border-b px-3 py-1.5">
            Kinetra does not answer. It is tried again; what you press does nothing now.
          </span>
        )}
        {wrong && state === "in" && <span className="block border-line border-b px-3 py-1.5 text-wrong">{wrong}</span>}
        {board.holds.map((words) => (
          <span key={words} className="flex items-center gap-1.5 border-lamp border-b px-3 py-1.5">
            <MicOff size={14} className="text-lamp" aria-hidden="true" /> {words}
          </span>
        ))}
      </p>
      <main className="min-h-0 grow overflow-auto px-3 py-2">
        {isEmpty && (
          <p className="text-quiet">This device was given nothing yet. That is done in Kinetra, under Hands.</p>
        )}
        {rights.cues && <Cues board={board} />}
        {rights.pads && <Pads board={board} />}
        {board.lanes.map((lane) => (
          <Lane key={lane.id} lane={lane} />
        ))}
      </main>
      {board.voices.length > 0 && <Voices board={board} />}
    </div>
  );
}

function Sign({ look, size = 13 }: { look: Look; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-11 -11 22 22" aria-hidden="true" className="shrink-0">
      <path d={shapes[look.shape]} fill={`var(--source-${look.color})`} />
    </svg>
  );
}

function Cues({ board }: { board: BoardState }) {
  return (
    <section aria-label="Cues" className="mb-3 flex gap-2">
      <Button
        wraps
        disabled={board.next === null}
        className="min-h-14 min-w-0 grow text-base"
        icon={<SkipForward size={18} className="shrink-0" />}
        onClick={() => act("cue/next")}
      >
        {board.next ?? "No cue is next"}
      </Button>
      <Button className="h-14" onClick={() => act("cue/back")}>
        Back
      </Button>
      <Button
        className="h-14"
        tone={board.cuesHeld ? "lit" : "plain"}
        aria-pressed={board.cuesHeld}
        onClick={() => act("cue/hold", board.cuesHeld ? "off" : "on")}
      >
        Hold
      </Button>
    </section>
  );
}

function Pads({ board }: { board: BoardState }) {
  const sounds = useSecond((s) => s.sounds);
  return (
    <section aria-label="Pads" className="mb-3">
      <div className="mb-2 flex items-center gap-2">
        {board.sets.length > 1 ? (
          <select
            aria-label="Set at hand"
            value={board.set ?? ""}
            onChange={(e) => act(`pads/set/${e.target.value}`)}
            className="h-10 min-w-0 grow rounded-md border border-line bg-raised px-2"
          >
            {board.sets.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </select>
        ) : (
          <h2 className="grow font-semibold">{board.sets[0]?.name ?? "Pads"}</h2>
        )}
        <Button className="h-10" icon={<Square size={12} fill="currentColor" />} onClick={() => act("pads/stop")}>
          End all
        </Button>
      </div>
      {board.pads.length === 0 && <p className="text-quiet">There is no pad in this set.</p>}
      <ul className="flex flex-col gap-2">
        {board.pads.map((pad) => (
          <li key={pad.id} className="flex items-center gap-2">
            <HoldButton
              heldClassName="outline-2 outline-lamp"
              onHold={(on) => act(`pad/${pad.id}/press`, on ? "on" : "off")}
              label={`${pad.name}${pad.silent ? `. Silent: ${pad.silent}` : ""}`}
              title={pad.silent ?? undefined}
              sounds={pad.id in sounds}
              style={{ "--part": sounds[pad.id] ?? 0 } as CSSProperties}
              className={`pad flex h-14 min-w-0 grow items-center gap-2 overflow-hidden rounded-lg border px-3 text-left ${pad.silent ? "border-wrong" : "border-strong/60"} bg-surface`}
            >
              <Sign look={pad.look} />
              <span className="min-w-0 basis-2/5 truncate">{pad.name}</span>
              <span className="h-9 min-w-0 grow">
                <Body pad={pad} />
              </span>
            </HoldButton>
            {/* Beside what plays: here a finger moves the list. */}
            <span aria-hidden="true" className="w-6 shrink-0 py-5" />
          </li>
        ))}
      </ul>
    </section>
  );
}

function Body({ pad }: { pad: BoardState["pads"][number] }) {
  const [sound, setSound] = useState<{ seconds: number; columns: string } | undefined>();
  useEffect(() => {
    let isHere = true;
    void soundOf(pad.sound).then((s) => isHere && setSound(s ?? undefined));
    return () => {
      isHere = false;
    };
  }, [pad.sound]);
  return <PadBody pad={pad} sound={sound} points={90} />;
}

function Voices({ board }: { board: BoardState }) {
  const big =
    "flex h-16 min-w-32 grow items-center justify-center gap-2 rounded-lg border border-strong bg-raised px-2";
  return (
    <section
      aria-label="Cough and talkback"
      className="flex max-h-[40%] shrink-0 flex-wrap gap-2 overflow-auto border-line border-t bg-surface p-3"
    >
      {board.voices.map((voice) => (
        <HoldButton
          key={voice.id}
          heldClassName="outline-2 outline-lamp"
          onHold={(on) => act(`source/${voice.id}/cough`, on ? "on" : "off")}
          label={`Cough ${voice.name}: while held, it reaches nobody but My ears`}
          className={big}
        >
          <Sign look={voice.look} />
          <span className="min-w-0 truncate">Cough {voice.name}</span>
        </HoldButton>
      ))}
      {board.talkTo.flatMap((to) =>
        board.voices.map((voice) => (
          <HoldButton
            key={`${to.id} ${voice.id}`}
            heldClassName="outline-2 outline-lamp"
            onHold={(on) => act(`source/${voice.id}/talk/${to.id}`, on ? "on" : "off")}
            label={`${voice.name} to ${to.name}: talkback, alone while held`}
            className={big}
          >
            <Sign look={voice.look} />
            <span className="min-w-0 truncate">
              {voice.name} to {to.name}
            </span>
          </HoldButton>
        )),
      )}
    </section>
  );
}

const lowest = -60;
const highest = 12;

function Lane({ lane }: { lane: BoardState["lanes"][number] }) {
  return (
    <section aria-label={lane.name} className="mb-3">
      <h2 className="mb-1 font-semibold">{lane.name}</h2>
      <ul className="flex flex-col">
        {lane.sends.map((send) => (
          <li key={send.id} className="border-line border-t py-2">
            <div className="flex items-center gap-2">
              <Sign look={send.look} />
              <span className={`min-w-0 grow truncate ${send.heard ? "" : "text-quiet"}`}>{send.name}</span>
              <span className="text-[13px] text-quiet tabular-nums">{gainText(send.gain)}</span>
              <Button
                aria-pressed={send.muted}
                className={`h-10 ${send.muted ? "border-ink font-semibold" : ""}`}
                aria-label={`Mute ${send.name} in ${lane.name}`}
                onClick={() => act(`mix/${lane.id}/source/${send.id}/mute`, send.muted ? "off" : "on")}
              >
                Mute
              </Button>
              <Button
                aria-pressed={!send.heard}
                className={`h-10 ${send.heard ? "" : "border-ink font-semibold"}`}
                aria-label={`Dock ${send.name} in ${lane.name}`}
                onClick={() => act(`mix/${lane.id}/source/${send.id}/dock`, send.heard ? "on" : "off")}
              >
                Dock
              </Button>
            </div>
            <Level lane={lane} send={send} />
          </li>
        ))}
      </ul>
    </section>
  );
}

/** A send's level. While a finger moves it, it stands where the finger is. */
function Level({
  lane,
  send,
}: {
  lane: BoardState["lanes"][number];
  send: BoardState["lanes"][number]["sends"][number];
}) {
  const [moved, setMoved] = useState<number | null>(null);
  const told = Math.max(lowest, decibels(send.gain));
  // biome-ignore lint/correctness/useExhaustiveDependencies: what the server tells ends it
  useEffect(() => setMoved(null), [told]);
  return (
    <input
      type="range"
      min={lowest}
      max={highest}
      step={0.5}
      value={moved ?? told}
      aria-label={`Level of ${send.name} in ${lane.name}`}
      aria-valuetext={gainText(moved ?? told)}
      onChange={(e) => {
        const value = Number(e.target.value);
        setMoved(value);
        act(`mix/${lane.id}/source/${send.id}/level`, value <= lowest ? "off" : `${value}`);
      }}
      className="mt-1 h-9 w-full accent-ink"
    />
  );
}
