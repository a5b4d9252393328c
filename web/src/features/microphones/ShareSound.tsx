import { MonitorSpeaker } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import type { Show } from "@/core/api/client";
import type { Capture } from "@/core/audio/capture";
import { OutputGraph } from "@/core/audio/graph";
import { onPaint } from "@/core/meters/meters";
import { tell } from "@/core/notices/notices";
import { browserId } from "@/core/realtime/identity";
import { DialogForm } from "@/shared/forms/DialogForm";
import { NameRow } from "@/shared/forms/NameRow";
import { freeName, isTaken } from "@/shared/forms/names";
import { Row, Rows } from "@/shared/forms/Row";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { openShared, whyNot } from "./inputs";
import { handOver } from "./microphones";
import { useAddMicrophone } from "./server";

/** What was chosen, and what measures it. */
interface Shared {
  stream: MediaStream;
  meter: Capture;
  label: string;
}

const reasons = {
  refused: "Nothing was chosen.",
  absent:
    "What was chosen shares no sound. Choose a tab, or the whole screen, and let its sound be shared where the browser asks.",
  busy: "The browser could not take that sound. Choosing again may help.",
  failed: "This browser cannot share sound.",
} as const;

const ways = [
  { value: "still", words: "There too" },
  { value: "alone", words: "Only at the desk" },
] as const;

/** Makes the sound of a tab or of the whole computer a source. */
export function ShareSoundForm({ show, close }: { show: Show; close: () => void }) {
  const [way, setWay] = useState<"still" | "alone">("still");
  const [shared, setShared] = useState<Shared | null>(null);
  const [wrong, setWrong] = useState<keyof typeof reasons | null>(null);
  const [asking, setAsking] = useState(false);
  const [typed, setTyped] = useState<string | null>(null);
  const add = useAddMicrophone();

  // What was chosen and not added is given back; what was added lives on.
  const held = useRef<Shared | null>(null);
  const gone = useRef(false);
  const end = () => {
    held.current?.meter.stop("WindowClosed");
    stopAll(held.current?.stream);
    held.current = null;
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: only when it goes
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
      end();
    };
  }, []);

  const choose = async () => {
    setAsking(true);
    let stream: MediaStream | undefined;
    try {
      const opened = await openShared(way === "still");
      stream = opened.stream;
      const graph = await OutputGraph.of();
      // Whoever has closed this meanwhile shares nothing.
      if (gone.current) throw new DOMException("", "AbortError");
      end();
      graph.wake();
      const next = { stream, meter: graph.capture(stream.clone()), label: opened.label };
      held.current = next;
      setShared(next);
      setWrong(null);
    } catch (error) {
      stopAll(stream);
      setWrong(whyNot(error));
    } finally {
      setAsking(false);
    }
  };

  const name = typed ?? (shared ? freeName(shared.label, show.sources) : "");
  const submit = () => {
    if (!shared) return;
    const device = `shared-${crypto.randomUUID()}`;
    handOver(device, shared.stream);
    const channels = shared.meter.granted.channels;
    add.mutate(
      {
        client: browserId,
        device,
        label: shared.label,
        stillPlays: way === "still",
        voices: [{ name: name.trim(), left: 0, right: channels > 1 ? 1 : null }],
      },
      {
        onSuccess: () => {
          shared.meter.stop("WindowClosed");
          held.current = null;
          tell("done", `${name.trim()} is a source now.`, "The browser asks again after this page is loaded anew.");
          close();
        },
      },
    );
  };

  return (
    <DialogForm
      act={add.isPending ? "Adding …" : "Add it"}
      ready={shared !== null && name.trim() !== "" && !isTaken(name, show.sources)}
      pending={add.isPending}
      error={add.error}
      onCancel={close}
      onSubmit={submit}
    >
      <p className="text-[13px] text-quiet">
        The browser asks which tab, window or screen it is. It gives sound of tabs everywhere, of the whole computer on
        some systems only.
      </p>
      <Rows>
        <Row label="Is heard">
          <div>
            <Choice label="Where it is heard" value={way} options={ways} onChange={setWay} />
          </div>
        </Row>
        <Row label="Sound">
          <div className="flex items-center gap-3">
            <Button icon={<MonitorSpeaker size={15} />} disabled={asking} onClick={() => void choose()}>
              {shared ? "Choose another …" : "Choose what is shared …"}
            </Button>
            {shared && <SharedMeter shared={shared} />}
          </div>
        </Row>
        {shared && <NameRow value={name} others={show.sources} of="source" onChange={setTyped} />}
      </Rows>
      {wrong && (
        <p role="alert" className="text-[13px] text-wrong">
          {reasons[wrong]}
        </p>
      )}
    </DialogForm>
  );
}

function stopAll(stream: MediaStream | undefined) {
  for (const track of stream?.getTracks() ?? []) track.stop();
}

const floor = -60;

function SharedMeter({ shared }: { shared: Shared }) {
  const bar = useRef<HTMLDivElement>(null);
  useEffect(
    () =>
      onPaint(() => {
        const peak = Math.max(floor, ...shared.meter.peaks());
        if (bar.current) bar.current.style.transform = `scaleX(${Math.min(1, 1 - peak / floor)})`;
      }),
    [shared],
  );
  return (
    <span className="flex min-w-0 items-center gap-2 text-[13px]">
      <span className="h-1.5 w-14 shrink-0 overflow-hidden rounded-sm bg-line" aria-hidden="true">
        <span ref={bar} className="block h-full origin-left bg-lamp" style={{ transform: "scaleX(0)" }} />
      </span>
      <span className="truncate">{shared.label}</span>
    </span>
  );
}
