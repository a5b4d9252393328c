import { useEffect, useState } from "react";
import { soundContext } from "@/core/audio/context";
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

interface Candidates {
  candidates: Candidate[] | null;
  wrong: Refused | null;
}

/** Opens every input that the browser lists, to see and to measure which is which; closes them all when it is no longer used. */
export function useCandidates(again: number): Candidates {
  const [state, setState] = useState<Candidates>({ candidates: null, wrong: null });
  // biome-ignore lint/correctness/useExhaustiveDependencies: `again` asks for a fresh look
  useEffect(() => {
    const opened: MediaStream[] = [];
    let over = false;
    const open = async () => {
      setState({ candidates: null, wrong: null });
      try {
        if (!navigator.mediaDevices) throw new DOMException("", "NotFoundError");
        // The first one asks the person; only then does the browser tell the others' names.
        opened.push(await openInput(null));
        const inputs = await listInputs();
        const found = await Promise.all(inputs.map((input) => measure(input, opened, () => over)));
        if (over) close();
        else setState({ candidates: found, wrong: null });
      } catch (error) {
        if (!over) setState({ candidates: null, wrong: whyNot(error) });
      }
    };
    const close = () => {
      for (const stream of opened) for (const track of stream.getTracks()) track.stop();
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

async function measure(input: InputChoice, opened: MediaStream[], over: () => boolean): Promise<Candidate> {
  try {
    const stream = await openInput(input.device);
    opened.push(stream);
    const context = await soundContext();
    if (over()) throw new DOMException("", "AbortError");
    void context.resume();
    const settings = stream.getAudioTracks()[0]?.getSettings() ?? {};
    const channels = Math.min(8, settings.channelCount ?? 1);
    const source = context.createMediaStreamSource(stream);
    const splitter = new ChannelSplitterNode(context, { numberOfOutputs: channels });
    source.connect(splitter);
    const analysers = Array.from({ length: channels }, (_, c) => {
      const analyser = new AnalyserNode(context, { fftSize: 2048 });
      splitter.connect(analyser, c);
      return analyser;
    });
    const samples = new Float32Array(2048);
    const peaks = () =>
      analysers.map((analyser) => {
        analyser.getFloatTimeDomainData(samples);
        let peak = 0;
        for (const x of samples) peak = Math.max(peak, Math.abs(x));
        return 20 * Math.log10(peak);
      });
    return { ...input, channels, settings, wrong: null, peaks };
  } catch (error) {
    return { ...input, channels: 0, settings: null, wrong: whyNot(error), peaks: () => [] };
  }
}
