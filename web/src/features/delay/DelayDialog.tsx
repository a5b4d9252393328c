import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Problems } from "@/shared/forms/Problems";
import { decimal } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { measureDelay } from "./probe";

/** How long a voice takes from this window through the engine and back to it: measured, and what it is made of. */
export function DelayDialog() {
  return (
    <LayerDialog
      title="The delay of this window"
      words="A probe goes up as a microphone does, through the engine, and comes down as a mix does. Nobody hears it, and no mix holds it."
    >
      <Measurement />
    </LayerDialog>
  );
}

function Measurement() {
  const [share, setShare] = useState(0);
  const measure = useMutation({ mutationFn: () => measureDelay(setShare), networkMode: "always" });
  const delay = measure.data;
  const way = delay && delay.up !== null && delay.down !== null ? delay.whole - delay.up - delay.down : null;
  return (
    <div className="text-[13px]">
      {delay && (
        <dl className="mb-4 grid grid-cols-[1fr_auto] gap-y-1.5">
          <Row name="Waits at the server, for bursts of this browser" value={delay.up} />
          <Row name="Waits in this window, for bursts of the engine" value={delay.down} />
          <Row name="On the way and in the engine, less what the browser computes ahead of time" value={way} />
          <dt className="border-line border-t pt-1.5 font-semibold">Round trip</dt>
          <dd className="border-line border-t pt-1.5 text-right font-semibold">{decimal(delay.whole)} ms</dd>
          <Row name={`The longest of ${delay.bursts}`} value={delay.longest} />
          <dt className="pt-3 text-quiet">Beside that, as the browser states it: sound output</dt>
          <dd className="pt-3 text-right text-quiet">{decimal(delay.output)} ms</dd>
        </dl>
      )}
      <Problems error={measure.error} allowed="this server, not too busy, and a browser that plays sound" />
      <div className="flex items-center justify-end gap-3 pt-3">
        {measure.isPending && (
          <span role="status" className="text-quiet">
            Measuring: {Math.round(share * 100)} %
          </span>
        )}
        <Button tone="lamp" disabled={measure.isPending} onClick={() => measure.mutate()}>
          {delay ? "Measure again" : "Measure"}
        </Button>
      </div>
    </div>
  );
}

function Row({ name, value }: { name: string; value: number | null }) {
  return (
    <>
      <dt>{name}</dt>
      <dd className="text-right">{value === null ? "–" : `${decimal(value)} ms`}</dd>
    </>
  );
}
