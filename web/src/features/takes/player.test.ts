import { expect, test, vi } from "vitest";
import { type PlayingContext, TakePlayer } from "./player";

/** A sound output whose clock the test moves. */
function output() {
  const started: { at: number; samples: number[]; gain: number }[] = [];
  const context = {
    currentTime: 0,
    sampleRate: 100,
    destination: {},
    createGain: () => {
      const node = { gain: { value: 1, setTargetAtTime: (v: number) => (node.gain.value = v) }, connect: () => {} };
      return node;
    },
    createBuffer: (channels: number, length: number) => {
      const planes = Array.from({ length: channels }, () => new Float32Array(length));
      return { planes, getChannelData: (c: number) => planes[c] };
    },
    createBufferSource: () => {
      const source = {
        buffer: null as { planes: Float32Array[] } | null,
        onended: null,
        to: null as { gain: { value: number } } | null,
        connect: (to: { gain: { value: number } }) => {
          source.to = to;
        },
        disconnect: () => {},
        stop: () => {},
        start: (at: number) => {
          started.push({ at, samples: [...(source.buffer?.planes[0] ?? [])], gain: source.to?.gain.value ?? 0 });
        },
      };
      return source;
    },
  };
  return { context, started };
}

const count = (from: number, frames: number) => Float32Array.from({ length: frames }, (_, n) => from + n);

function playing(seconds: number, slow?: () => Promise<void>) {
  const { context, started } = output();
  const over = vi.fn();
  const player = new TakePlayer(
    context as unknown as PlayingContext,
    [
      { id: "a", channels: 1 },
      { id: "b", channels: 1 },
    ],
    seconds,
    async (track, from, frames) => {
      await slow?.();
      return count(track === "a" ? from : from + 10_000, frames);
    },
    over,
  );
  return { context, started, player, over };
}

test("all tracks begin at one time from the place that is asked for, and go on without a gap", async () => {
  vi.useFakeTimers();
  const { context, started, player } = playing(9);
  player.play(1.5);
  await vi.advanceTimersByTimeAsync(0);
  expect(started.map((s) => s.at)).toEqual([0.05, 0.05, 2.05, 2.05, 4.05, 4.05]);
  expect(started.map((s) => s.samples[0])).toEqual([150, 10_150, 350, 10_350, 550, 10_550]);
  context.currentTime = 1.05;
  expect(player.position).toBeCloseTo(2.5);
  await vi.advanceTimersByTimeAsync(100);
  expect(started.map((s) => s.at).slice(6)).toEqual([6.05, 6.05]);
  expect(started.at(-1)?.samples).toHaveLength(150);
  player.pause();
  context.currentTime = 3;
  expect(player.position).toBeCloseTo(2.5);
  vi.useRealTimers();
});

test("where sound is late all tracks wait for it together, and nothing is skipped", async () => {
  vi.useFakeTimers();
  let hold = false;
  const { context, started, player } = playing(10, () => new Promise((done) => setTimeout(done, hold ? 1_000 : 0)));
  player.play(0);
  await vi.advanceTimersByTimeAsync(10);
  hold = true;
  context.currentTime = 2;
  await vi.advanceTimersByTimeAsync(60);
  context.currentTime = 9;
  await vi.advanceTimersByTimeAsync(1_000);
  const late = started.filter((s) => s.samples[0] === 600 || s.samples[0] === 10_600);
  expect(new Set(late.map((s) => s.at)).size).toBe(1);
  expect(late[0]?.at).toBeCloseTo(9.05);
  expect(player.position).toBeCloseTo(6 - 0.05);
  player.pause();
  vi.useRealTimers();
});

test("at the end it says so and stands at the beginning; a fault is told, and nothing sounds on", async () => {
  vi.useFakeTimers();
  const { context, player, over } = playing(1);
  player.play(0.5);
  await vi.advanceTimersByTimeAsync(0);
  context.currentTime = 2;
  await vi.advanceTimersByTimeAsync(100);
  expect(over).toHaveBeenCalledExactlyOnceWith();
  expect([player.playing, player.position]).toEqual([false, 0]);
  vi.useRealTimers();

  const broken = playing(1, () => Promise.reject(new Error("gone")));
  broken.player.play();
  await vi.waitFor(() => expect(broken.over).toHaveBeenCalledOnce());
  expect(broken.player.playing).toBe(false);
});

test("a level is for one track alone", async () => {
  const { started, player } = playing(1);
  player.level("b", 0);
  player.play();
  await vi.waitFor(() => expect(started).toHaveLength(2));
  expect(started.map((s) => s.gain)).toEqual([1, 0]);
  player.pause();
});
