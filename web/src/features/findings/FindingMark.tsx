import { TriangleAlert } from "lucide-react";
import type { CSSProperties } from "react";
import { openLayer } from "@/core/place/place";
import { stop } from "@/shared/focus/roving";
import { Hint } from "@/shared/ui/Hint";
import { useFindingsAt } from "./findings";

interface Props {
  /** What it stands beside: points that a finding must all concern. */
  points: string[];
  /** What that is called. */
  name: string;
  className?: string;
  style?: CSSProperties;
}

/** Beside what a finding concerns: says what it is, and leads to what ends it. */
export function FindingMark({ points, name, className = "", style }: Props) {
  const found = useFindingsAt(...points);
  const [first] = found;
  if (!first) return null;
  const more = found.length > 1 ? ` And ${found.length - 1} more.` : "";
  return (
    <Hint text={`${first.sentence}${more}`}>
      <button
        type="button"
        {...stop}
        aria-label={`${found.length} ${found.length === 1 ? "finding" : "findings"} at ${name}`}
        onClick={() => openLayer("findings")}
        style={style}
        className={`shrink-0 rounded p-0.5 ${first.harm === "Serious" ? "text-wrong" : "text-lamp-ink"} hover:bg-raised ${className}`}
      >
        <TriangleAlert size={14} aria-hidden="true" />
      </button>
    </Hint>
  );
}
