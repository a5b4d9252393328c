import { Cable as CableIcon, Combine, History, ListChecks, Search } from "lucide-react";
import { useState } from "react";
import type { GearApp, Gear as GearDocument, Show } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { openLayer } from "@/core/place/place";
import { Button } from "@/shared/ui/Button";
import { Hint } from "@/shared/ui/Hint";
import { Failed, faultOf, Loading, State } from "@/shared/ui/State";
import { AfterShow } from "./AfterShow";
import { AppSentence } from "./AppSentence";
import { DestinationSentence } from "./DestinationSentence";
import { DeviceSentence } from "./DeviceSentence";
import { useFulfil } from "./gear";
import { useGear } from "./known";
import { RolesLine } from "./RolesLine";
import { SenderSentence } from "./SenderSentence";
import { Group } from "./Sentence";
import { SourceSentence } from "./SourceSentence";
import { usesPractice, useWanted } from "./wanted";

/** The computer around the desk, in sentences with choices in them. */
export function Gear() {
  const gear = useGear();
  const show = useShow();
  const fault = faultOf(gear);
  if (fault) return <Failed error={fault} retry={() => void gear.refetch()} />;
  if (!gear.data || !show.data) return <Loading what="the computer" />;
  return <Shown gear={gear.data} show={show.data} />;
}

function Shown({ gear, show }: { gear: GearDocument; show: Show }) {
  const { wanted, want } = useWanted();
  const [filter, setFilter] = useState("");
  const fulfil = useFulfil();
  const practice = wanted || usesPractice(show);
  const find = filter.trim().toLowerCase();
  const fits = (name: string, ...more: (string | null | undefined)[]) =>
    find === "" || [name, ...more].some((text) => text?.toLowerCase().includes(find));
  // What is simulated is no part of a show that has only what is real.
  const around = practice ? gear : { ...gear, apps: [], devices: [] };
  const apps = (kinds: GearApp["kind"][]) =>
    around.apps.filter((a) => kinds.includes(a.kind) && fits(a.name, ...a.ports.map((p) => p.name)));
  // These are no simulated ones.
  const senders = gear.apps.filter((a) => a.kind === "Sender" && fits(a.name));
  const people = show.sources.filter((s) => s.input.type !== "app" && s.input.type !== "soundFile" && fits(s.name));
  const devices = around.devices.filter((d) => fits(d.name));
  const mixes = show.mixes.filter((m) => fits(m.name));
  const groups: { title: string; kinds: GearApp["kind"][] }[] = [
    { title: "Programs that play", kinds: ["Game", "Music", "Player"] },
    { title: "Programs that talk with somebody", kinds: ["Call", "Chat"] },
    { title: "Programs that take your mixes", kinds: ["Encoder", "Recorder", "Listener"] },
  ];
  return (
    <div className="flex h-full flex-col overflow-auto px-5 py-4 max-md:px-3">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2 pb-3">
        <h1 className="text-lg font-semibold">Gear</h1>
        {practice && (
          <p
            className="rounded-md border border-line px-2 py-0.5 text-xs text-quiet"
            title="Its devices and programs are simulated; all else is real."
          >
            Practice computer
          </p>
        )}
        <label className="flex h-8 min-w-40 items-center gap-1.5 rounded-md border border-line bg-ground px-2 text-[13px] focus-within:border-strong">
          <Search size={14} className="text-quiet" aria-hidden="true" />
          <input
            type="search"
            value={filter}
            onChange={(e) => setFilter(e.target.value)}
            placeholder="Find a program or device"
            aria-label="Find a program or device"
            className="min-w-0 grow bg-transparent outline-none placeholder:text-quiet"
          />
        </label>
        <div className="grow" />
        {gear.unmet.length > 0 && (
          <Button
            tone="lit"
            disabled={fulfil.isPending || gear.unmet.every((u) => u.obstacle !== null)}
            onClick={() => fulfil.mutate({})}
          >
            Set all as this show wants it
          </Button>
        )}
        {practice && (
          <>
            <AfterShow gear={gear} show={show} />
            <Hint text="What was changed of the computer, and by whom">
              <Button
                square
                icon={<History size={15} />}
                aria-label="What was changed of the computer"
                onClick={() => openLayer("computer")}
              />
            </Hint>
            <Button icon={<Combine size={15} />} onClick={() => openLayer("join")}>
              Join devices
            </Button>
          </>
        )}
        {practice && (
          <Button icon={<ListChecks size={15} />} onClick={() => openLayer("cards")}>
            What to pick where
          </Button>
        )}
        <Button icon={<CableIcon size={15} />} onClick={() => openLayer("cables")}>
          Cables
        </Button>
      </div>
      {practice && (
        <section
          aria-label="What the computer does when a program has no choice of its own"
          className="border-line border-t pt-3"
        >
          <h2 className="text-[13px] font-semibold text-quiet">
            What the computer does when a program has no choice of its own
          </h2>
          <RolesLine gear={gear} show={show} />
        </section>
      )}
      {people.length > 0 && (
        <Group title="People, instruments and cables that come to the desk">
          {people.map((source) => (
            <SourceSentence key={source.id} gear={gear} show={show} source={source} />
          ))}
        </Group>
      )}
      {groups.map(
        ({ title, kinds }) =>
          apps(kinds).length > 0 && (
            <Group key={title} title={title}>
              {apps(kinds).map((app) => (
                <AppSentence key={app.id} gear={gear} show={show} app={app} />
              ))}
            </Group>
          ),
      )}
      {senders.length > 0 && (
        <Group title="Programs that send into a cable by its address">
          {senders.map((app) => (
            <SenderSentence key={app.id} gear={gear} app={app} />
          ))}
        </Group>
      )}
      {mixes.length > 0 && (
        <Group title="Where you and others hear it">
          {mixes.map((mix) => (
            <DestinationSentence key={mix.id} gear={around} show={show} mix={mix} />
          ))}
        </Group>
      )}
      {devices.length > 0 && (
        <Group title="Devices">
          {devices.map((device) => (
            <DeviceSentence key={device.id} gear={gear} show={show} device={device} />
          ))}
        </Group>
      )}
      {!practice && (
        <State
          title="This show uses nothing of the practice computer"
          words="The practice computer is simulated: devices and programs that behave like real ones, to learn with and to try things out. This show has only what is real."
        >
          <Button onClick={() => want(true)}>Show the practice computer</Button>
        </State>
      )}
      {find !== "" &&
        people.length + devices.length + mixes.length === 0 &&
        groups.every((g) => apps(g.kinds).length === 0) && (
          <p className="py-6 text-[13px] text-quiet">Nothing here is called “{filter.trim()}”.</p>
        )}
    </div>
  );
}
