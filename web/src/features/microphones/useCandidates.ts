import { useEffect, useState } from "react";
import type { Capture } from "@/core/audio/capture";
import { OutputGraph } from "@/core/audio/graph";
import { type InputChoice, listInputs, openInput, type Refused, whyNot } from "./inputs";

/** One input that can be added: opened, and measured. */
export interface Candidate extends InputChoice {
  /** Channels; 0 while it is being opened, or where it could not be. */
  channels: number;
  settings: MediaTrackSettings | null;
  wrong: Refused | null;
  /** The highest sample of each channel now, dBFS. Measured, call it while drawing. */
  peaks: () => number[];
}

type Closing = () => void;

interface Candidates {
  candidates: Candidate[] | null;
  wrong: Refused | null;
}

/** Opens every input that the browser lists, to see and to measure which is which; closes them all when it is no longer used. */
export function useCandidates(again: number): Candidates {
  const [state, setState] = useState<Candidates>({ candidates: null, wrong: null });
  // biome-ignore lint/correctness/useExhaustiveDependencies: `again` asks for a fresh look
  useEffect(() => {
    const opened: Closing[] = [];
    let over = false;
    const open = async () => {
      setState({ candidates: null, wrong: null });
      try {
        if (!navigator.mediaDevices) throw new DOMException("", "NotFoundError");
        // The first one asks the person; only then does the browser tell the others' names.
        const any = await openInput(null);
        opened.push(() => closeStream(any));
        const inputs = await listInputs();
        const found = await Promise.all(inputs.map((input) => measure(input, opened, () => over)));
        if (over) close();
        else setState({ candidates: found, wrong: null });
      } catch (error) {
        if (!over) setState({ candidates: null, wrong: whyNot(error) });
      }
    };
    const close = () => {
      for (const end of opened) end();
    };
    void open();
    const plugged = () => void open();
    navigator.mediaDevices?.addEventListener("devicechange", plugged);
    return () => {
      over = true;
      navigator.mediaDevices?.removeEventListener("devicechange", plugged);
      close();
    };
  }, [again]);
  return state;
}

async function measure(input: InputChoice, opened: Closing[], over: () => boolean): Promise<Candidate> {
  try {
    const stream = await openInput(input.device);
    opened.push(() => closeStream(stream));
    const graph = await OutputGraph.of();
    if (over()) throw new DOMException("", "AbortError");
    void graph.context.resume();
    const capture: Capture = graph.capture(stream);
    opened.push(() => capture.stop("WindowClosed"));
    const settings = stream.getAudioTracks()[0]?.getSettings() ?? {};
    return { ...input, channels: capture.granted.channels, settings, wrong: null, peaks: () => capture.peaks() };
  } catch (error) {
    return { ...input, channels: 0, settings: null, wrong: whyNot(error), peaks: () => [] };
  }
}

function closeStream(stream: MediaStream) {
  for (const track of stream.getTracks()) track.stop();
}
