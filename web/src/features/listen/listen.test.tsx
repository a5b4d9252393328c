import { beforeEach, expect, test, vi } from "vitest";
import { useOutputs } from "@/core/audio/outputs";
import { listen } from "./listen";

const made = vi.hoisted(() => ({
  players: [] as { device: string; wishes: object[]; closed: boolean; places: number[] }[],
}));

vi.mock("@/core/audio/graph", () => ({
  OutputGraph: {
    of: async (device: string) => ({
      device,
      wake: () => {},
      play: () => {
        const player = { device, wishes: [] as object[], closed: false, places: new Array(8).fill(Number.NaN) };
        made.players.push(player);
        return {
          ring: { control: new Int32Array(8), places: player.places },
          wish: (wish: object) => player.wishes.push(wish),
          close: () => {
            player.closed = true;
          },
        };
      },
    }),
  },
}));

const last = (device: string) => made.players.findLast((p) => p.device === device);

beforeEach(async () => {
  await listen({ mix: "viewers" });
});

test("while the output changes, what is listened to plays on until the other one plays, and who stops hears nothing at once", async () => {
  await expect.poll(() => last("")?.wishes.at(-1)).toEqual({ mix: "viewers" });
  useOutputs.setState({ chosen: "phones" });
  await expect.poll(() => last("phones")?.wishes.at(-1)).toEqual({ mix: "viewers" });
  expect(last("")?.closed).toBe(false);

  void listen({});
  expect(last("")?.wishes.at(-1)).toEqual({});
  expect(last("phones")?.wishes.at(-1)).toEqual({});

  last("phones")?.places.fill(1200);
  await expect.poll(() => last("")?.closed).toBe(true);
  expect(last("phones")?.closed).toBe(false);
});
