import type { Take } from "@/core/api/client";

/** What happened to a recording that nobody asked for. */
export interface End {
  title: string;
  detail: string;
}

/**
 * What has to be told, on whatever screen one is, between two answers of the server: a take that ended by itself, and a
 * folder that is written to no more, or not at all. What was so when one came is on the take; it is told to nobody anew.
 */
export function endsBetween(before: Take[], now: Take[]): End[] {
  return now.flatMap((take) => {
    const was = before.find((t) => t.id === take.id);
    const ends: End[] = [];
    if (was?.state === "Recording" && take.state === "Interrupted")
      ends.push({ title: `“${take.name}” ended by itself: nothing is recorded now.`, detail: take.endedBecause ?? "" });
    if (take.copy?.words && !was?.copy?.words && (was ? was.state : take.state) === "Recording")
      ends.push({ title: "A take is written to one folder only.", detail: take.copy.words });
    return ends;
  });
}
