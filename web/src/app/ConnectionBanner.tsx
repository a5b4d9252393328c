import { Unplug } from "lucide-react";
import { useConnection } from "@/core/realtime/connection";
import { useStatus } from "@/core/realtime/status";

function silencedWords(names: string[]): string | null {
  const last = names.at(-1);
  if (last === undefined) return null;
  if (names.length === 1) {
    return `${last} failed and is silent; all else plays on. Removing it and undoing that starts it anew; the server's log says why.`;
  }
  return `${names.slice(0, -1).join(", ")} and ${last} failed and are silent; all else plays on. Removing one and undoing that starts it anew; the server's log says why.`;
}

/** Says so while the server is away, or waits for something itself; gone by itself once all is well. */
export function ConnectionBanner() {
  const hub = useConnection((s) => s.hub);
  const status = useStatus();
  const words =
    hub === "lost"
      ? "The server does not answer. What you see is what was last known; it is tried again every second."
      : (status.data?.waitingFor ?? silencedWords(status.data?.silenced ?? []));
  return (
    <div role="status" aria-live="polite">
      {words && (
        <p className="flex items-center gap-2 border-wrong border-b bg-wrong/10 px-4 py-1.5 text-[13px]">
          <Unplug size={15} className="shrink-0 text-wrong" aria-hidden="true" />
          {words}
        </p>
      )}
    </div>
  );
}
