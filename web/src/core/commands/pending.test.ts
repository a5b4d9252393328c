import { beforeEach, expect, test } from "vitest";
import type { Show } from "@/core/api/client";
import { keepOnTop, usePending, withPending } from "./pending";

const told = { revision: 1, mixes: [{ id: "m", gain: 0 }] } as unknown as Show;
const shown = (show: Show) => withPending(show, usePending.getState().changes);
const gain = (to: number) => (show: Show) =>
  ({ ...show, mixes: show.mixes.map((m) => ({ ...m, gain: to })) }) as unknown as Show;

beforeEach(() => usePending.setState({ changes: [] }));

test("ten steps that nobody has answered are all shown, and stay while older answers come in", () => {
  const over = Array.from({ length: 10 }, (_, i) => keepOnTop(gain(i + 1)));
  expect(shown(told).mixes[0]?.gain).toBe(10);
  for (let i = 0; i < 9; i++) {
    over[i]?.();
    expect(shown(gain(i + 1)({ ...told, revision: i + 2 })).mixes[0]?.gain).toBe(10);
  }
  over[9]?.();
  expect(shown(gain(10)(told)).mixes[0]?.gain).toBe(10);
});

test("what another window changes meanwhile is shown beneath one's own change", () => {
  keepOnTop(gain(5));
  const other = { ...told, revision: 2, name: "Called otherwise" } as Show;
  expect(shown(other)).toMatchObject({ name: "Called otherwise", mixes: [{ gain: 5 }] });
});

test("a change that is refused leaves the server's document as it is", () => {
  const over = keepOnTop(gain(5));
  over();
  expect(shown(told)).toBe(told);
});

test("the same document and changes are the same object, so that nothing is drawn twice", () => {
  keepOnTop(gain(5));
  expect(shown(told)).toBe(shown(told));
});
