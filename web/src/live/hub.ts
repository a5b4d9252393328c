import { type HubConnection, HubConnectionBuilder, HubConnectionState, LogLevel } from "@microsoft/signalr";
import type { QueryClient } from "@tanstack/react-query";
import type { Gain, HistoryLine, Show } from "../api/client";
import type { ChainPlace } from "../chains/changes";
import { turnKey, turns } from "../chains/previews";
import { dragKey, drags } from "../desk/drags";
import { microphonesKey } from "../microphones/keys";
import { historyKey } from "../show/history";
import { acceptShow } from "../show/show";
import { showsKey } from "../shows/keys";
import { takesKey } from "../takes/takes";
import { tell } from "../ui/notices";
import { useConnection } from "./connection";
import { windowId } from "./identity";
import { statusKey } from "./status";

const retryAfter = 1000;
let hub: HubConnection | null = null;

/** This window's name at the server; null while it has none. */
export function clientId(): string | null {
  return hub?.connectionId ?? null;
}

/** Lets a send be heard at a gain while it is dragged. Lost without harm where the server does not answer. */
export function previewSend(mix: string, source: string, gain: Gain) {
  invoke("PreviewSend", mix, source, gain);
}

/** Lets a send be heard as it is stored again. */
export function endPreview(mix: string, source: string) {
  invoke("EndPreview", mix, source);
}

/** Lets a processor be heard with another value while it is turned; null: as it is stored again. */
export function previewProcessor(place: ChainPlace, processor: string, parameter: string, value: number | null) {
  invoke("PreviewProcessor", place.source ?? null, place.mix ?? null, processor, parameter, value);
}

/** Tells the others why this browser cannot give one of its inputs. */
export function microphoneAbsent(client: string, device: string, because: "Unplugged" | "Refused") {
  invoke("MicrophoneAbsent", client, device, because);
}

function invoke(method: string, ...values: unknown[]) {
  if (hub?.state === HubConnectionState.Connected) void hub.send(method, ...values).catch(() => undefined);
}

/** Keeps this window in step with the server, for as long as it is open. */
export function startHub(queries: QueryClient) {
  const connection = new HubConnectionBuilder()
    .withUrl("/api/live", { withCredentials: false })
    .withAutomaticReconnect({ nextRetryDelayInMilliseconds: () => retryAfter })
    .withServerTimeout(6000)
    .withKeepAliveInterval(2000)
    .configureLogging(LogLevel.None)
    .build();
  hub = connection;
  const open = () => {
    useConnection.setState({ hub: "open" });
    void queries.invalidateQueries();
  };
  connection.on("ShowChanged", (show: Show, step: HistoryLine | null) => {
    acceptShow(queries, show);
    void queries.invalidateQueries({ queryKey: historyKey });
    if (step && step.kind !== "Do" && step.window !== windowId) {
      tell("done", step.sentence, `By another window${step.windowName ? ` (${step.windowName})` : ""}.`);
    }
  });
  connection.on("PreviewEnded", (mix: string, source: string) => drags.endByOther(dragKey(mix, source)));
  connection.on("ShowsChanged", () => void queries.invalidateQueries({ queryKey: showsKey }));
  connection.on("MicrophonesChanged", () => void queries.invalidateQueries({ queryKey: microphonesKey }));
  connection.on("StorageChanged", () => {
    void queries.invalidateQueries({ queryKey: statusKey });
    void queries.invalidateQueries({ queryKey: takesKey });
    void queries.invalidateQueries({ queryKey: showsKey });
  });
  connection.on("SendPreviewed", (mix: string, source: string, gain: Gain) =>
    drags.setByOther(dragKey(mix, source), gain),
  );
  connection.on("ProcessorPreviewed", (processor: string, parameter: string, value: number | null) => {
    if (value === null) turns.endByOther(turnKey(processor, parameter));
    else turns.setByOther(turnKey(processor, parameter), value);
  });
  connection.on("TakesChanged", () => void queries.invalidateQueries({ queryKey: takesKey }));
  connection.onreconnecting(() => useConnection.setState({ hub: "lost" }));
  connection.onreconnected(open);
  const start = async () => {
    try {
      await connection.start();
      open();
    } catch {
      useConnection.setState({ hub: "lost" });
      setTimeout(() => void start(), retryAfter);
    }
  };
  void start();
}
