import { openLayer } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";
import { useFindingsAt } from "./findings";

/** Below a sentence about something: what is found that concerns it. What its own words say already is left out. */
export function FindingNotes({ at }: { at: string }) {
  const found = useFindingsAt(at).filter((f) => f.kind !== "NeedsRestart");
  return found.map((f) => (
    <p
      key={f.key}
      className={`flex flex-wrap items-center gap-x-2 text-xs leading-5 ${f.harm === "Serious" ? "text-wrong" : "text-lamp-ink"}`}
    >
      {f.sentence}
      <Button small className="h-6" onClick={() => openLayer("findings")}>
        {f.fixes.length > 0 ? "What ends it" : "All findings"}
      </Button>
    </p>
  ));
}
