import { Waypoints } from "lucide-react";
import { type Selection, showOn, usePlace } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";

/** Below the meters of something: leads to where its sound goes, to be traced. */
export function ShowOnMap({ selection }: { selection: NonNullable<Selection> }) {
  const isThere = usePlace((p) => p.screen === "paths");
  if (isThere) return null;
  return (
    <Button
      tone="quiet"
      className="h-7 self-start"
      icon={<Waypoints size={13} />}
      onClick={() => showOn("paths", selection)}
    >
      Trace it on the map
    </Button>
  );
}
