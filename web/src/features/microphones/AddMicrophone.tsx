import { useEffect, useId, useRef, useState } from "react";
import type { Show } from "@/core/api/client";
import { onPaint } from "@/core/meters/meters";
import { tell } from "@/core/notices/notices";
import { closeLayer } from "@/core/place/place";
import { browserId } from "@/core/realtime/identity";
import { DialogForm } from "@/shared/forms/DialogForm";
import { NameRow } from "@/shared/forms/NameRow";
import { freeName, isTaken } from "@/shared/forms/names";
import { Row, Rows } from "@/shared/forms/Row";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { OneOf } from "@/shared/ui/OneOf";
import { GrantedWords } from "./GrantedWords";
import type { Refused } from "./inputs";
import { expectInput } from "./microphones";
import { useAddMicrophone } from "./server";
import { type Candidate, useCandidates } from "./useCandidates";

/** Who speaks on which channels. */
interface Pick {
  words: string;
  voices: { left: number; right?: number }[];
}

function picksOf(channels: number): Pick[] {
  if (channels === 1) return [{ words: "Its one channel", voices: [{ left: 0 }] }];
  const each = Array.from({ length: channels }, (_, c) => c);
  return [
    { words: "Two people, on channels 1 and 2", voices: [{ left: 0 }, { left: 1 }] },
    { words: "Stereo: channels 1 and 2", voices: [{ left: 0, right: 1 }] },
    ...each.map((c) => ({ words: `Channel ${c + 1} alone`, voices: [{ left: c }] })),
  ];
}

const reasons: Record<Refused, string> = {
  refused:
    "This browser was told not to give microphones to Kinetra. Allow it at the left of the address, then look again.",
  absent: "This browser sees no microphone. Plug one in, or switch it on, then look again.",
  busy: "Another program holds the microphone. Close it there, then look again.",
  failed: "The browser could not open a microphone. Looking again may help.",
};

/** Makes an input of this computer a source. */
export function AddMicrophone({ show }: { show: Show }) {
  return (
    <LayerDialog
      title="Add this computer’s microphone"
      words="Speak, and choose the one whose meter moves. No listener hears it before it stands in a lane: in My ears it waits in the dock."
    >
      <MicrophoneForm show={show} close={closeLayer} />
    </LayerDialog>
  );
}

/** Which input of this browser, and who speaks on it. */
export function MicrophoneForm({ show, close }: { show: Show; close: () => void }) {
  const [looks, setLooks] = useState(0);
  const { candidates, wrong } = useCandidates(looks);
  const [chosen, setChosen] = useState<string | null>(null);
  const [pickIndex, setPickIndex] = useState(0);
  const [names, setNames] = useState<Record<number, string>>({});
  const add = useAddMicrophone();
  const id = useId();
  const usable = candidates?.filter((c) => c.channels > 0) ?? [];
  const candidate = usable.find((c) => c.device === chosen) ?? usable[0];
  const picks = candidate ? defaultFirst(picksOf(candidate.channels)) : [];
  const pick = picks[Math.min(pickIndex, picks.length - 1)];

  if (wrong || (candidates && candidates.length === 0)) {
    return (
      <div className="flex flex-col gap-3">
        <p role="alert">{reasons[wrong ?? "absent"]}</p>
        <div className="flex justify-end gap-2">
          <Button onClick={close}>Cancel</Button>
          <Button tone="lamp" onClick={() => setLooks((n) => n + 1)}>
            Look again
          </Button>
        </div>
      </div>
    );
  }
  if (!candidates) return <p role="status">Asking the browser for its microphones …</p>;

  const nameOf = (voice: number) => names[voice] ?? suggest(show, candidate, pick, voice);
  const submit = () => {
    if (!candidate || !pick) return;
    expectInput(candidate.device);
    add.mutate(
      {
        client: browserId,
        device: candidate.device,
        label: candidate.label.slice(0, 200),
        voices: pick.voices.map((v, i) => ({ name: nameOf(i), left: v.left, right: v.right ?? null })),
      },
      {
        onSuccess: () => {
          tell("done", "The microphone is in the show.", "Its processing in the browser is asked off.");
          close();
        },
      },
    );
  };
  const wrongName = pick?.voices.some((_, i) => nameOf(i).trim() === "" || isTaken(nameOf(i), show.sources));

  return (
    <DialogForm
      act={pick && pick.voices.length > 1 ? "Add them" : "Add it"}
      ready={candidate !== undefined && !wrongName}
      pending={add.isPending}
      error={add.error}
      onSubmit={submit}
      onCancel={close}
    >
      <fieldset className="flex flex-col gap-1">
        <legend className="mb-1 text-[13px] text-quiet">Microphone</legend>
        {candidates.map((c) => (
          <label
            key={c.device}
            className={`grid cursor-pointer grid-cols-[auto_1fr_7rem] items-center gap-2 rounded-md border px-2 py-1.5 has-focus-visible:outline-2 has-focus-visible:outline-focus ${c === candidate ? "border-ink bg-raised" : "border-line hover:bg-raised"} ${c.channels === 0 ? "opacity-60" : ""}`}
          >
            <input
              type="radio"
              name={`${id}-input`}
              checked={c === candidate}
              disabled={c.channels === 0}
              onChange={() => {
                setChosen(c.device);
                setPickIndex(0);
                setNames({});
              }}
            />
            <span className="min-w-0 truncate" title={c.label}>
              {c.label}
            </span>
            {c.channels > 0 ? (
              <CandidateMeter candidate={c} />
            ) : (
              <span className="text-right text-xs text-quiet">{c.wrong === "busy" ? "in use" : "not given"}</span>
            )}
          </label>
        ))}
      </fieldset>
      {candidate && pick && (
        <Rows>
          {picks.length > 1 && (
            <Row label="Channels">
              <OneOf
                label="Channels"
                value={pick}
                options={picks.map((p) => ({ value: p, words: p.words }))}
                onChange={(p) => {
                  setPickIndex(picks.indexOf(p));
                  setNames({});
                }}
              />
            </Row>
          )}
          {pick.voices.map((voice, i) => (
            <NameRow
              key={`${voice.left}-${voice.right}`}
              label={pick.voices.length > 1 ? `Name, ch. ${voice.left + 1}` : "Name"}
              value={nameOf(i)}
              others={show.sources}
              of="source"
              onChange={(name) => setNames((old) => ({ ...old, [i]: name }))}
            />
          ))}
          <Row label="Browser">
            <GrantedWords settings={candidate.settings} />
          </Row>
        </Rows>
      )}
    </DialogForm>
  );
}

// Most microphones on a two-channel input are one voice on the first.
function defaultFirst(picks: Pick[]): Pick[] {
  const alone = picks.findIndex((p) => p.voices.length === 1 && p.voices[0]?.right === undefined);
  return alone <= 0 ? picks : [picks[alone] as Pick, ...picks.filter((_, i) => i !== alone)];
}

function suggest(show: Show, candidate: Candidate | undefined, pick: Pick | undefined, voice: number): string {
  const label = (candidate?.label ?? "Microphone").replace(/\s*\([0-9a-f]{4}:[0-9a-f]{4}\)$/i, "").slice(0, 50);
  const wanted = pick && pick.voices.length > 1 ? `${label} ${voice + 1}` : label;
  return freeName(wanted, show.sources);
}

const meterFrom = -60;

/** One thin bar for each channel: the highest sample of the last 43 ms. */
function CandidateMeter({ candidate }: { candidate: Candidate }) {
  const bars = useRef<HTMLDivElement>(null);
  useEffect(
    () =>
      onPaint(() => {
        const peaks = candidate.peaks();
        for (let c = 0; c < peaks.length; c++) {
          const bar = bars.current?.children[c]?.firstElementChild;
          const share = Math.min(1, Math.max(0, ((peaks[c] ?? meterFrom) - meterFrom) / -meterFrom));
          if (bar instanceof HTMLElement) bar.style.transform = `scaleX(${share})`;
        }
      }),
    [candidate],
  );
  return (
    <div ref={bars} className="flex flex-col gap-0.5" aria-hidden="true">
      {Array.from({ length: candidate.channels }, (_, c) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a channel is its number
        <div key={c} className="h-1.5 overflow-hidden rounded-sm bg-line">
          <div className="h-full origin-left bg-ink" style={{ transform: "scaleX(0)" }} />
        </div>
      ))}
    </div>
  );
}
