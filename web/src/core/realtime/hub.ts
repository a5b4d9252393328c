import { type HubConnection, HubConnectionBuilder, HubConnectionState, LogLevel } from "@microsoft/signalr";
import type { QueryClient, QueryKey } from "@tanstack/react-query";
import type { Calls, Topics } from "@/core/api/generated/live";
import { useConnection } from "./connection";

const retryAfter = 1000;
let hub: HubConnection | null = null;
const lost: (() => void)[] = [];
const listeners: { topic: keyof Topics; hear: (...values: never[]) => void }[] = [];

/** Hears what the server tells, from now on; what is said before the hub is started hears all of it. */
export function on<T extends keyof Topics>(topic: T, hear: (...values: Topics[T]) => void) {
  listeners.push({ topic, hear: hear as (...values: never[]) => void });
  hub?.on(topic, hear as (...values: unknown[]) => void);
}

/** Is told when what the server tells was missed: while the connection was away, or since this window fell too far behind. */
export function onMissed(then: () => void) {
  lost.push(then);
}

/** Fetches what is known by a key anew whenever the server tells that it has changed. */
export function refetchOn(queries: QueryClient, topic: keyof Topics, queryKey: QueryKey) {
  on(topic, () => void queries.invalidateQueries({ queryKey }));
}

/** This window's name at the server; null while it has none. */
export function clientId(): string | null {
  return hub?.connectionId ?? null;
}

/** Tells the server something that is lost without harm where it does not answer. */
export function tellServer<C extends keyof Calls>(call: C, ...values: Calls[C]) {
  if (hub?.state === HubConnectionState.Connected) void hub.send(call, ...values).catch(() => undefined);
}

/** Asks the server for something that can be refused: then it throws, with the reason. */
export async function askServer<C extends keyof Calls>(call: C, ...values: Calls[C]) {
  if (hub?.state !== HubConnectionState.Connected) throw new Error("The server does not answer.");
  try {
    await hub.invoke(call, ...values);
  } catch (error) {
    // The words that the server said stand after what the library says of them.
    throw new Error((error as Error).message.replace(/^.*HubException: /, ""));
  }
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

  // Told first on every connection, from when on nothing is missed; and wherever this window fell too far behind.
  on("EverythingChanged", () => {
    for (const then of lost) then();
    void queries.invalidateQueries();
  });
  const open = () => useConnection.setState({ hub: "open" });
  for (const { topic, hear } of listeners) connection.on(topic, hear as (...values: unknown[]) => void);
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
