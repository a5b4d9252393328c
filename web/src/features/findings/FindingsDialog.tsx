import { CircleAlert, Info, TriangleAlert } from "lucide-react";
import { useState } from "react";
import type { Finding, Show } from "@/core/api/client";
import { type Selection, showOn } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";
import { Hint } from "@/shared/ui/Hint";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { Failed, Loading } from "@/shared/ui/State";
import { Effect } from "./Effect";
import { useAccept, useFindings } from "./findings";
import { Places } from "./Places";

const harms = {
  Serious: { words: "Spoils the show", Sign: CircleAlert, tone: "text-wrong" },
  Noticeable: { words: "Will be noticed", Sign: TriangleAlert, tone: "text-lamp-ink" },
  Slight: { words: "Good to know", Sign: Info, tone: "text-quiet" },
} as const;

/** All that is found about where sound goes, the most harmful first, with what ends it. */
export function FindingsDialog({ show }: { show: Show }) {
  const found = useFindings();
  return (
    <LayerDialog
      title="What is found"
      words="Where every sound goes, computed from the show and the computer as they are now, with every change."
    >
      {found.isError ? (
        <Failed error={found.error} retry={() => void found.refetch()} />
      ) : !found.data ? (
        <Loading what="what is found" />
      ) : found.data.findings.length === 0 ? (
        <p className="text-quiet">Nothing: no sound comes twice, goes round, or to somebody it should not.</p>
      ) : (
        <ul className="text-[13px]">
          {found.data.findings.map((f) => (
            <Found key={f.key} finding={f} show={show} />
          ))}
        </ul>
      )}
    </LayerDialog>
  );
}

function Found({ finding, show }: { finding: Finding; show: Show }) {
  const [open, setOpen] = useState<string | null>(null);
  const accept = useAccept();
  const { words, Sign, tone } = harms[finding.harm];
  const fix = finding.fixes.find((x) => x.label === open);
  const traced = tracedBy(finding.places);
  return (
    <li className="grid grid-cols-[1.25rem_1fr] gap-x-2 border-line border-t py-2.5">
      <Sign size={16} className={`mt-0.5 ${tone}`} aria-hidden="true" />
      <div className="min-w-0">
        <p>
          <span className={`mr-1.5 font-semibold ${finding.isAccepted ? "text-quiet" : tone}`}>
            {finding.isAccepted ? "Accepted" : words}.
          </span>
          {finding.sentence}
        </p>
        <div className="mt-1.5 flex flex-wrap items-center gap-1.5">
          {finding.fixes.map((x) => (
            <Button
              key={x.label}
              wraps
              aria-expanded={open === x.label}
              onClick={() => setOpen(open === x.label ? null : x.label)}
            >
              {x.label}
            </Button>
          ))}
          {(finding.harm !== "Slight" || finding.isAccepted) && (
            <Hint
              text={
                finding.isAccepted
                  ? "Counts it again, and says it where it is"
                  : "Stays quiet until something of it changes; a step, undone like any other"
              }
            >
              <Button
                tone="quiet"
                className="h-7"
                disabled={accept.isPending}
                onClick={() => accept.mutate({ key: finding.key, accepted: !finding.isAccepted })}
              >
                {finding.isAccepted ? "Say it again" : "Accept it so"}
              </Button>
            </Hint>
          )}
          {traced && (
            <Button tone="quiet" className="h-7" onClick={() => showOn("paths", traced)}>
              Trace it
            </Button>
          )}
          <Places points={finding.places} show={show} />
        </div>
        {fix && (
          <Effect
            key={fix.label}
            proposal={{ of: "finding", key: finding.key, label: fix.label }}
            ofComputer={fix.ofComputer}
          />
        )}
      </div>
    </li>
  );
}

/** The way that a finding speaks of: from a source to who hears it; null: it speaks of none. */
function tracedBy(places: readonly string[]): NonNullable<Selection> | null {
  const source = places.find((p) => p.startsWith("source/"))?.split("/")[1];
  const [kind, mix] = places.find((p) => p.startsWith("mix/"))?.split("/") ?? [];
  const end = places.find((p) => p.startsWith("app/") || p.startsWith("device/"));
  if (!source) return null;
  if (end) return { kind: "way", source, point: end };
  return kind && mix ? { kind: "send", source, mix } : null;
}
