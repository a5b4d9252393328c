import type { Gear, GearApp } from "@/core/api/client";
import { clock } from "@/shared/look/format";
import { Sentence } from "./Sentence";

/** Who sends into a cable by its address: it is set where it runs. */
export function SenderSentence({ gear, app }: { gear: Gear; app: GearApp }) {
  const into = gear.ends.find((e) => e.end === app.ports[0]?.end)?.name;
  return (
    <Sentence name={app.name} at={`app/${app.id}`} points={app.ports.map((p) => `app/${app.id}/${p.id}`)}>
      <strong className="font-semibold">{app.name}</strong> sends into <strong>{into ?? "a cable that is gone"}</strong>
      {app.since && ` since ${clock(app.since)}`}, in {app.ports[0]?.channels === 1 ? "mono" : "stereo"}. It is set
      where it runs.
    </Sentence>
  );
}
