import { tell } from "@/core/notices/notices";
import { useConnection } from "@/core/realtime/connection";
import { askServer } from "@/core/realtime/hub";
import { windowId, windowName } from "@/core/realtime/identity";

/** Does an action of this window: what stands for its targets, and what it is told. */
type Handler = (ids: readonly string[], value: string | null) => void;

const handlers = new Map<string, Handler>();
let show: string | null = null;

/** Says who does an action in this window, until that is taken back. What is done here goes to the server only where nobody says so. */
export function handle(address: string, handler: Handler): () => void {
  handlers.set(address, handler);
  return () => {
    if (handlers.get(address) === handler) handlers.delete(address);
  };
}

/** Says which show this window shows. */
export function actsFor(id: string | null) {
  show = id;
}

/** What is told of a press: a level of its own, dB. */
export interface Told {
  value?: string | null;
  level?: number;
}

/** Does what an address says: in this window, or at the server. Whatever is refused is told. */
export function perform(address: string, { value = null, level = 0 }: Told = {}) {
  const parts = address.split("/");
  for (const [own, handler] of handlers) {
    const ids = matched(own.split("/"), parts);
    if (ids) return handler(ids, value);
  }
  // Said while nobody hears it, it is not done later.
  if (show === null || useConnection.getState().hub !== "open") {
    tell("wrong", "The server does not answer.", "It was not done.");
    return;
  }
  askServer("Act", show, address, value, level, windowId, windowName).catch((e: Error) => tell("wrong", e.message));
}

function matched(own: string[], parts: string[]): string[] | null {
  if (own.length !== parts.length) return null;
  const ids: string[] = [];
  for (const [i, part] of own.entries()) {
    const given = parts[i] ?? "";
    if (part.startsWith("{")) ids.push(given);
    else if (part !== given) return null;
  }
  return ids;
}
