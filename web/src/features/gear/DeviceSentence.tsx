import { Suspense, useState } from "react";
import type { Gear, GearDevice, Show } from "@/core/api/client";
import { LossNote } from "@/features/findings";
import { decimal, clock as timeOf } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Word } from "@/shared/ui/Word";
import { useChangeDevice, useClocks, usePartDevices } from "./gear";
import { InputList } from "./InputList";
import { Note, Sentence } from "./Sentence";

const rates = [8_000, 16_000, 32_000, 44_100, 48_000, 88_200, 96_000, 192_000];
const buffers = [64, 128, 256, 512, 1_024, 2_048];

/** A device: what it is, how it runs, and whether it is there. */
export function DeviceSentence({ gear, show, device }: { gear: Gear; show: Show; device: GearDevice }) {
  const change = useChangeDevice();
  const part = usePartDevices();
  const set = (values: Parameters<typeof change.mutate>[0]["change"]) =>
    change.mutate({ device: device.id, change: values });
  const [open, setOpen] = useState(false);
  const [lossOpen, setLossOpen] = useState(false);
  const clock = useClocks().find((c) => c.device === device.id);
  const { inputs, outputs, isPresent: present } = device;
  const joined = device.joins.map((id) => gear.devices.find((d) => d.id === id)?.name ?? "something");
  const users = show.sources.filter(({ input }) => input.type === "device" && input.device === device.id);
  return (
    <Sentence
      name={device.name}
      at={`device/${device.id}`}
      points={present ? [`device/${device.id}/in`, `device/${device.id}/out`] : []}
      quiet={!present}
      below={
        <>
          {!present && users.length > 0 && (
            <Note tone="wrong">
              {users.map((s) => s.name).join(", ")} {users.length === 1 ? "waits" : "wait"} for it; the rest plays on.
            </Note>
          )}
          {clock && typeof clock.partsPerMillion === "number" && present && (
            <Note tone="quiet">
              Its clock runs {decimal(Math.abs(clock.partsPerMillion), 0)} ppm{" "}
              {clock.partsPerMillion < 0 ? "slow" : "fast"}
              {typeof clock.latencyMs === "number" &&
                `; its sound is held ${decimal(clock.latencyMs)} ms back for that`}
              .
            </Note>
          )}
          {device.busyWith && <Note tone="wrong">Busy: {device.busyWith} has it for itself.</Note>}
          <div className="flex flex-wrap items-center gap-1.5 pt-0.5">
            {joined.length > 0 ? (
              <Button small tone="quiet" className="h-6" onClick={() => part.mutate(device.id)}>
                Take it apart
              </Button>
            ) : (
              <Button
                small
                tone={present ? "quiet" : "plain"}
                className="h-6"
                aria-label={`${present ? "Unplug" : "Plug in"} ${device.name}`}
                onClick={() => set({ isPresent: !present })}
              >
                {present ? "Unplug" : "Plug in"}
              </Button>
            )}
            {joined.length === 0 && present && (
              <Button
                small
                tone="quiet"
                className="h-6"
                aria-expanded={lossOpen}
                aria-label={`If it goes …: ${device.name}`}
                onClick={() => setLossOpen(!lossOpen)}
              >
                If it goes …
              </Button>
            )}
            {joined.length === 0 && inputs.length > 0 && (
              <Button
                small
                tone="quiet"
                className="h-6"
                aria-expanded={open}
                aria-label={`Inputs of ${device.name}`}
                onClick={() => setOpen(!open)}
              >
                Inputs
              </Button>
            )}
            {joined.length === 0 && present && (
              <Button
                small
                tone="quiet"
                className="h-6"
                aria-label={`${device.busyWith ? "Let go of it" : "Let another program take it"}: ${device.name}`}
                onClick={() => set({ busyWith: device.busyWith ? "" : "Another program" })}
              >
                {device.busyWith ? "Let go of it" : "Let another program take it"}
              </Button>
            )}
          </div>
          {lossOpen && present && (
            <Suspense>
              <LossNote device={device.id} name={device.name} />
            </Suspense>
          )}
          {open && <InputList device={device} />}
        </>
      }
    >
      <strong className="font-semibold">{device.name}</strong>{" "}
      {joined.length > 0 ? (
        <>
          is {joined.join(" and ")} as one; the first gives the clock. It has {sides(inputs.length, outputs)}.
        </>
      ) : (
        <>
          {!present && <>is unplugged{device.since && ` since ${timeOf(device.since)}`}; it </>}
          has {sides(inputs.length, outputs)} and runs at{" "}
          <Word
            label={`Rate of ${device.name}`}
            words={`${device.rate / 1000} kHz`}
            items={rates.map((rate) => ({
              words: `${rate / 1000} kHz`,
              chosen: rate === device.rate,
              onSelect: () => set({ rate }),
            }))}
          />{" "}
          with buffers of{" "}
          <Word
            label={`Buffer of ${device.name}`}
            words={`${device.bufferFrames} frames`}
            items={buffers.map((bufferFrames) => ({
              words: `${bufferFrames} frames`,
              chosen: bufferFrames === device.bufferFrames,
              onSelect: () => set({ bufferFrames }),
            }))}
          />
          {device.canMonitor && (
            <>
              {" "}
              and{" "}
              <Word
                label={`Direct monitoring of ${device.name}`}
                words={device.isMonitoring ? "plays its inputs itself" : "does not play its inputs itself"}
                items={[
                  {
                    words: "It plays its inputs straight to its own first outputs",
                    chosen: device.isMonitoring,
                    onSelect: () => set({ isMonitoring: true }),
                  },
                  {
                    words: "It does not",
                    chosen: !device.isMonitoring,
                    onSelect: () => set({ isMonitoring: false }),
                  },
                ]}
              />
            </>
          )}
          .{device.isOpen && present && " What it plays comes back into every open microphone."}
        </>
      )}
    </Sentence>
  );
}

function sides(inputs: number, outputs: number): string {
  const words = (n: number, what: string) => (n === 0 ? "" : `${n} ${what}${n === 1 ? "" : "s"}`);
  return [words(inputs, "input"), words(outputs, "output")].filter(Boolean).join(" and ");
}
