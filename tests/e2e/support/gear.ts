import type { Page } from "@playwright/test";
import { expect, openDesk } from "./fixtures.ts";
import type { Server } from "./server.ts";

export interface Show {
  sources: { id: string; name: string }[];
  cables: { id: string; name: string }[];
}

export interface Gear {
  roles: { role: string; name: string }[];
  apps: { id: string; ports: { id: string; end: string | null }[] }[];
}

/** Opens Gear. */
export async function openGear(page: Page, server: Server) {
  await openDesk(page, server);
  await page.getByRole("navigation", { name: "Screens" }).getByRole("link", { name: "Gear" }).click();
  await expect(page.getByRole("heading", { name: "Gear", exact: true })).toBeVisible();
}

/** The sentence about something. */
export const sentence = (page: Page, name: string) => page.getByRole("listitem", { name, exact: true });

/** The computer. */
export const gearOf = async (server: Server) => (await server.get("/api/gear")) as Gear;

/** The highest samples at points of the computer since they were asked last, dBFS. */
export async function peaks(page: Page, points: string[]): Promise<number[]> {
  return (await channelPeaks(page, points)).map((channels) => Math.max(Number.NEGATIVE_INFINITY, ...channels));
}

/** The same, channel by channel. */
export function channelPeaks(page: Page, points: string[]): Promise<number[][]> {
  return page.evaluate(
    (wanted) =>
      new Promise<number[][]>((done) => {
        const socket = new WebSocket(`${window.location.origin.replace("http", "ws")}/api/analysis`);
        socket.binaryType = "arraybuffer";
        let buses: { point: string; channels: number }[] = [];
        socket.onopen = () => socket.send(JSON.stringify({ open: 1, topic: "levels" }));
        socket.onmessage = ({ data }: MessageEvent<string | ArrayBuffer>) => {
          if (typeof data === "string") {
            buses = (JSON.parse(data) as { values: { buses: typeof buses } }).values.buses;
            return;
          }
          const values = new Float32Array(data, 40);
          socket.close();
          let at = values.length - buses.reduce((sum, b) => sum + b.channels, 0);
          const found = new Map<string, number[]>();
          for (const { point, channels } of buses) {
            found.set(point, [...values.subarray(at, at + channels)]);
            at += channels;
          }
          done(wanted.map((point) => found.get(point) ?? []));
        };
      }),
    points,
  );
}

/** The highest samples of each channel at points while the server's time goes on for so many seconds: speech has pauses. */
export async function loudest(page: Page, server: Server, points: string[], seconds: number): Promise<number[][]> {
  const most: number[][] = points.map(() => []);
  for (let time = 0; time < seconds; time += 0.3) {
    await server.step(0.3);
    for (const [i, channels] of (await channelPeaks(page, points)).entries()) {
      most[i] = channels.map((peak, c) => Math.max(peak, most[i]?.[c] ?? Number.NEGATIVE_INFINITY));
    }
  }
  return most;
}
