import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { page } from "vitest/browser";
import { render } from "vitest-browser-react";
import { OutputGraph } from "./graph";

type Choosable = AudioContext & { setSinkId: (device: string) => Promise<void> };

let chosen: string[] = [];
beforeEach(() => {
  chosen = [];
  vi.spyOn(AudioContext.prototype as Choosable, "setSinkId").mockImplementation(async (device) => {
    if (device === "gone") throw new DOMException("", "NotFoundError");
    chosen.push(device);
  });
});
afterEach(() => vi.restoreAllMocks());

/** A tone of half full scale, as an input would give it. */
function tone(context: AudioContext) {
  const oscillator = new OscillatorNode(context, { frequency: 1000 });
  const half = new GainNode(context, { gain: 0.5 });
  const input = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
  oscillator.connect(half).connect(input);
  oscillator.start();
  return input.stream;
}

test("each output has a graph of its own, several at once, and the same one for all who ask for it", async () => {
  const [system, one, again, two] = await Promise.all(["", "one", "one", "two"].map((d) => OutputGraph.of(d)));
  expect(again).toBe(one);
  expect(new Set([system, one, two].map((g) => g?.context)).size).toBe(3);
  expect(chosen.sort()).toEqual(["one", "two"]);
});

test("an output that cannot be had says so, and is tried anew the next time", async () => {
  await expect(OutputGraph.of("gone")).rejects.toThrow(DOMException);
  await expect(OutputGraph.of("gone")).rejects.toThrow(DOMException);
  expect((await OutputGraph.of()).context.state).not.toBe("closed");
});

test("an output that was chosen is let go with the last who used it, where the system plays stays", async () => {
  for (const [device, after] of [
    ["three", "closed"],
    ["", "open"],
  ] as const) {
    const graph = await OutputGraph.of(device);
    const captures = [graph.capture(tone(graph.context)), graph.capture(tone(graph.context))];
    captures[0]?.stop("WindowClosed");
    captures[0]?.stop("WindowClosed");
    expect(graph.context.state).not.toBe("closed");
    captures[1]?.stop("WindowClosed");
    await expect.poll(() => (graph.context.state === "closed" ? "closed" : "open")).toBe(after);
    expect((await OutputGraph.of(device)) === graph).toBe(after === "open");
  }
});

test("a capture is measured by its own channels, and gives its device back when it is stopped", async () => {
  await render(<button type="button">wake</button>);
  await page.getByText("wake").click();
  const graph = await OutputGraph.of();
  await graph.context.resume();
  const stream = tone(graph.context);
  const capture = graph.capture(stream);
  expect(capture.peaks()).toHaveLength(capture.granted.channels);
  await expect.poll(() => Math.abs((capture.peaks()[0] ?? 0) + 6.02) < 0.2, { timeout: 5000 }).toBe(true);
  capture.stop("Unplugged");
  expect(stream.getTracks().every((t) => t.readyState === "ended")).toBe(true);
  expect(() => graph.capture(new MediaStream())).toThrow("no sound");
});
