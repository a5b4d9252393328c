import { type HubConnection, HubConnectionBuilder, HubConnectionState, LogLevel } from "@microsoft/signalr";
import type { QueryClient } from "@tanstack/react-query";
import type { Gain, Show } from "../api/client";
import { setPreview } from "../desk/drags";
import { acceptShow } from "../show/show";
import { takesKey } from "../takes/takes";
import { useConnection } from "./connection";

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
  connection.on("ShowChanged", (show: Show) => acceptShow(queries, show));
  connection.on("SendPreviewed", (mix: string, source: string, gain: Gain) => setPreview(mix, source, gain));
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
