import { useState } from "react";
import type { Hop, TracedWay } from "@/core/api/client";
import { decimal, gainText } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Choice } from "@/shared/ui/Choice";
import { Failed, Loading } from "@/shared/ui/State";
import { Effect } from "./Effect";
import { useTrace } from "./findings";
import { HopLevel } from "./HopLevel";

interface Props {
  source: string;
  /** Points that it can be traced to, the first one to begin with: a mix, a program's input, what a device plays. */
  listeners: readonly { value: string; words: string }[];
}

/** Every way by which a source comes to a listener, stretch by stretch; or why it is not heard there, and what would change that. */
export function TraceSection({ source, listeners }: Props) {
  const [wanted, setWanted] = useState("");
  // Whoever is chosen may be gone meanwhile.
  const listener = (listeners.find((l) => l.value === wanted) ?? listeners[0])?.value ?? "";
  return (
    <section aria-label="How it gets here" className="mt-1 border-line border-t pt-2 text-[13px]">
      <h3 className="mb-1 text-xs text-quiet">How it gets here</h3>
      {listeners.length > 1 && <Choice label="Traced to" value={listener} options={listeners} onChange={setWanted} />}
      <Traced key={listener} source={source} listener={listener} />
    </section>
  );
}

function Traced({ source, listener }: { source: string; listener: string }) {
  const trace = useTrace(source, listener);
  const [open, setOpen] = useState<string | null>(null);
  const propose = (label: string) => setOpen(open === label ? null : label);
  if (trace.isError) return <Failed error={trace.error} retry={() => void trace.refetch()} />;
  if (!trace.data) return <Loading what="how it gets here" />;
  const { ways, sentence, count, open: opening } = trace.data;
  const offered = opening === open || ways.some((w) => w.hops.some((h) => h.cut === open));
  return (
    <>
      <p className="mt-1">{sentence}</p>
      {ways.map((way, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: ways have no other name than how strong they are
        <Way key={i} way={way} number={ways.length > 1 ? i + 1 : null} open={open} propose={propose} />
      ))}
      {ways.length > 0 && (
        <p className="mt-1 text-[11px] text-quiet">At the right: the highest sample there now, dBFS.</p>
      )}
      {count > ways.length && <p className="mt-1 text-xs text-quiet">And {count - ways.length} softer ones.</p>}
      {opening && (
        <Button
          className="mt-1.5 h-auto min-h-7 whitespace-normal"
          aria-expanded={open === opening}
          onClick={() => propose(opening)}
        >
          {opening}
        </Button>
      )}
      {open && offered && <Effect key={open} proposal={{ of: "way", source, listener, label: open }} />}
    </>
  );
}

interface WayProps {
  way: TracedWay;
  number: number | null;
  open: string | null;
  propose: (label: string) => void;
}

function Way({ way, number, open, propose }: WayProps) {
  return (
    <div className="mt-1.5">
      {number !== null && (
        <p className="text-xs font-semibold">
          {number === 1 ? "The strongest" : `Way ${number}`}: {gainText(rounded(way.gainDb))}, {late(way.delayMs)}
        </p>
      )}
      <ol className="mt-0.5 border-line border-l-2 pl-2">
        {way.hops.map((hop, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a way may lead through one thing twice
          <li key={i} className="flex items-baseline gap-1.5 py-0.5">
            <Stretch hop={hop} open={open} propose={propose} />
          </li>
        ))}
      </ol>
    </div>
  );
}

function Stretch({ hop, open, propose }: { hop: Hop; open: string | null; propose: (label: string) => void }) {
  const { cut } = hop;
  const words = (
    <>
      {hop.name} <span className="text-xs text-quiet">{hop.what}</span>
    </>
  );
  return (
    <>
      {cut ? (
        <button
          type="button"
          aria-expanded={open === cut}
          title={cut}
          onClick={() => propose(cut)}
          className="min-w-0 grow truncate rounded text-left underline decoration-dotted underline-offset-2 hover:bg-raised"
        >
          {words}
        </button>
      ) : (
        <span className="min-w-0 grow truncate">{words}</span>
      )}
      <span className="narrow shrink-0 text-xs text-quiet">
        {hop.gainDb !== 0 && gainText(rounded(hop.gainDb))}
        {hop.delayMs !== 0 && ` ${late(hop.delayMs)}`}
      </span>
      <HopLevel point={hop.to} />
    </>
  );
}

function rounded(db: number): number {
  return Math.round(db * 10) / 10;
}

function late(ms: number): string {
  return ms === 0 ? "at once" : `${decimal(ms)} ms`;
}
