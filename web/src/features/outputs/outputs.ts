import { type QueryClient, useQuery } from "@tanstack/react-query";
import { create } from "zustand";
import { answer, api, type Destination, type Show } from "@/core/api/client";
import { defaultOutput, OutputGraph } from "@/core/audio/graph";
import type { Player } from "@/core/audio/player";
import { on } from "@/core/realtime/hub";
import { browserId, windowId } from "@/core/realtime/identity";
import { outputId } from "./outputId";

type BrowserEnd = Extract<Destination["end"], { type?: "browser" }>;

/** How the show calls the output where the system says. */
export const systemOutput = "default";

/** How an output of this browser stands in this window. */
export type Playing = "starting" | "plays" | "asleep" | "held" | "absent" | "away";

/** The outputs of this browser that mixes go to, by the browser's own id. */
export const usePlaying = create<{ outputs: Record<string, Playing> }>(() => ({ outputs: {} }));

interface Running {
  player: Player | null;
  /** Aborted once it is over. */
  over: AbortController;
}

const running = new Map<string, Running>();

function set(device: string, state: Playing | null) {
  usePlaying.setState(({ outputs: { [device]: _, ...rest } }) => ({
    outputs: state === null ? rest : { ...rest, [device]: state },
  }));
}

/** Plays what the show's mixes give to outputs of this browser, and nothing else. Called whenever the show changes. */
export function tendOutputs(show: Show) {
  const wanted = new Set<string>();
  for (const mix of show.mixes)
    for (const { end } of mix.destinations)
      if (end.type === "browser" && end.client === browserId) wanted.add(end.device);
  for (const device of [...running.keys()]) if (!wanted.has(device)) stop(device);
  for (const device of wanted) if (!running.has(device)) void begin(device, false);
}

/** Plays it here: another window that plays it loses it. */
export function playHere(device: string) {
  stop(device);
  void begin(device, true);
}

function stop(device: string) {
  const mine = running.get(device);
  running.delete(device);
  if (mine) {
    mine.over.abort();
    mine.player?.close();
  }
  set(device, null);
}

async function begin(device: string, takeOver: boolean) {
  const mine: Running = { player: null, over: new AbortController() };
  const { signal } = mine.over;
  running.set(device, mine);
  set(device, "starting");
  try {
    const graph = await OutputGraph.of(device === systemOutput ? defaultOutput : device);
    if (signal.aborted) return;
    const told = (state: Playing) => !signal.aborted && set(device, state);
    const awake = () => (graph.context.state === "running" ? "plays" : "asleep");
    graph.context.addEventListener(
      "statechange",
      () => {
        const now = usePlaying.getState().outputs[device];
        if (now === "plays" || now === "asleep") told(awake());
      },
      { signal },
    );
    mine.player = graph.play((message) => {
      if (message.kind === "wrong") {
        // Not asked for again by itself, or two windows would take it from each other for ever.
        mine.player?.wish({});
        told(message.where === "output" ? "held" : "absent");
      } else told(message.kind === "closed" ? "away" : awake());
    });
    mine.player.wish({ point: `device/${outputId(browserId, device)}/out`, window: windowId, takeOver });
    told(awake());
    graph.wake();
  } catch {
    // Unplugged, or not allowed: it is tried again when the browser's list of outputs changes.
    running.delete(device);
    set(device, "absent");
  }
}

/** Watches for outputs that are plugged in again, and takes what no other window plays any more. */
export function watchOutputs() {
  navigator.mediaDevices?.addEventListener("devicechange", () => {
    for (const [device, state] of Object.entries(usePlaying.getState().outputs))
      if (state === "absent") void begin(device, false);
  });
}

const playersKey = ["players"] as const;

/** Keeps in step with the server which windows play which outputs. */
export function followPlayers(queries: QueryClient) {
  on("PlayersChanged", async () => {
    const players = await queries
      .fetchQuery({ queryKey: playersKey, queryFn: fetchPlayers, staleTime: 0 })
      .catch(() => null);
    // What another window played and plays no more is played here.
    for (const [device, state] of Object.entries(usePlaying.getState().outputs)) {
      if (state !== "held" || !players || players.some((p) => p.device === outputId(browserId, device))) continue;
      stop(device);
      void begin(device, false);
    }
  });
}

const fetchPlayers = () => answer(api.GET("/api/players"));

/** How a destination on a browser's output stands, in words; null: it plays. `here`: this window could play it. */
export function useOutputWords(end: BrowserEnd | null): { words: string | null; here: boolean } {
  const players = useQuery({
    queryKey: playersKey,
    queryFn: fetchPlayers,
    enabled: end !== null,
  }).data;
  const mine = usePlaying((s) => (end ? s.outputs[end.device] : undefined));
  if (!end) return { words: null, here: false };
  const player = players?.find((p) => p.device === outputId(end.client, end.device));
  if (end.client !== browserId)
    return { words: player ? null : "its browser is not open, or plays nothing yet", here: false };
  if (mine === "held") return { words: "another window plays it", here: true };
  if (mine === "absent") return { words: "this browser cannot play there now", here: false };
  if (mine === "asleep") return { words: "press anywhere: the browser holds sound back until then", here: false };
  return { words: mine === "plays" ? null : "it begins as soon as the server answers", here: false };
}
