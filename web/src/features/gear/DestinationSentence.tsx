import { Plus } from "lucide-react";
import { Fragment, type ReactNode, useEffect } from "react";
import type { Destination, Gain, Gear, Mix, Show } from "@/core/api/client";
import { findOutputs, useOutputs } from "@/core/audio/outputs";
import { browserId } from "@/core/realtime/identity";
import { useAddFeed, useChangeFeed, useRemoveFeed } from "@/features/cables";
import { outputId, playHere, systemOutput, useOutputWords } from "@/features/outputs";
import { gainText } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Menu, type MenuItem } from "@/shared/ui/Menu";
import { Word } from "@/shared/ui/Word";
import { useAddDestination, useChangeDestination, useRemoveDestination } from "./destinations";
import { channelWords } from "./ends";
import { Note, Sentence } from "./Sentence";
import { feedsOf } from "./ways";

const levels = [6, 3, 0, -3, -6, -10, -14, -20, -30];

/** Where a mix goes, each with its own level and on or off. */
export function DestinationSentence({ gear, show, mix }: { gear: Gear; show: Show; mix: Mix }) {
  const destinations = mix.destinations ?? [];
  const feeds = feedsOf(show, mix.id);
  const parts: { key: string; words: ReactNode }[] = [
    ...destinations.map((d) => ({ key: d.id, words: <ToDevice gear={gear} mix={mix} destination={d} /> })),
    ...feeds.map(({ cable, feed }) => ({
      key: `cable/${cable.id}`,
      words: <ToCable mix={mix} cable={cable} feed={feed} />,
    })),
  ];
  return (
    <Sentence
      name={mix.name}
      points={
        parts.length === 0
          ? [`mix/${mix.id}`]
          : [...destinations.map(pointOf), ...feeds.map(({ cable }) => `cable/${cable.id}`)]
      }
      below={
        <>
          {destinations.map((d) => d.on && <AwayNote key={d.id} gear={gear} destination={d} />)}
          <AddWay gear={gear} show={show} mix={mix} />
        </>
      }
    >
      <strong className="font-semibold">{mix.name}</strong>{" "}
      {parts.length === 0 ? "goes nowhere but to Listen" : "goes to "}
      {parts.map(({ key, words }, i) => (
        <Fragment key={key}>
          {i > 0 && (i === parts.length - 1 ? ", and to " : ", to ")}
          {words}
        </Fragment>
      ))}
      .
    </Sentence>
  );
}

/** Why nothing comes out at a destination now, and what can be done. */
function AwayNote({ gear, destination }: { gear: Gear; destination: Destination }) {
  const browser = destination.end.type === "browser" ? destination.end : null;
  const { words, here } = useOutputWords(browser);
  const why = browser ? words : whyNot(gear, destination);
  if (!why) return null;
  return (
    <Note tone={browser ? "quiet" : "wrong"}>
      {nameOf(gear, destination)}: {why}
      {browser ? "." : "; it goes on there by itself."}
      {here && browser && (
        <Button small className="h-6" onClick={() => playHere(browser.device)}>
          Play it in this window
        </Button>
      )}
    </Note>
  );
}

function nameOf(gear: Gear, { end }: Destination): string {
  if (end.type === "browser") return end.label;
  return gear.devices.find((d) => d.id === end.device)?.name ?? "A device that is not on this computer";
}

/** Why nothing comes out there now, in words; null: it does. */
function whyNot(gear: Gear, { end }: Destination): string | null {
  if (end.type === "browser") return null;
  const device = gear.devices.find((d) => d.id === end.device);
  if (!device) return "is not there";
  return device.isPresent ? (device.busyWith ? "is busy" : null) : "is unplugged";
}

const pointOf = ({ end }: Destination) =>
  end.type === "browser" ? `device/${outputId(end.client, end.device)}/out` : `device/${end.device}/out`;

/** At which level a mix goes somewhere, and whether it does now. */
function AtLevel({
  of,
  at,
  gain,
  on,
  set,
}: {
  of: string;
  at: string;
  gain: Gain;
  on: boolean;
  set: (change: { gain?: Gain; on?: boolean }) => void;
}) {
  return (
    <>
      at{" "}
      <Word
        label={`Level of ${of} at ${at}`}
        words={gainText(gain)}
        items={levels.map((level) => ({
          words: gainText(level),
          chosen: level === gain,
          onSelect: () => set({ gain: level }),
        }))}
      />{" "}
      <Word
        label={`${of} at ${at}`}
        words={on ? "on" : "off"}
        quiet={!on}
        items={[true, false].map((to) => ({
          words: to ? "on" : "off",
          chosen: to === on,
          onSelect: () => set({ on: to }),
        }))}
      />
    </>
  );
}

function ToDevice({ gear, mix, destination }: { gear: Gear; mix: Mix; destination: Destination }) {
  const change = useChangeDestination(mix.id);
  const remove = useRemoveDestination(mix.id);
  const { id, end, into, gain, on } = destination;
  const name = nameOf(gear, destination);
  const device = end.type === "device" ? gear.devices.find((d) => d.id === end.device) : undefined;
  const set = (values: Parameters<typeof change.mutate>[0]["change"]) => change.mutate({ id, change: values });
  const pairs = Array.from({ length: Math.floor((device?.outputs ?? 2) / 2) }, (_, i) => ({
    left: 2 * i,
    right: 2 * i + 1,
  }));
  const wide = (device?.outputs ?? 2) > 2;
  return (
    <>
      <Word
        label={`Where ${mix.name} goes`}
        words={wide ? `${name}, ${channelWords(into?.left ?? 0, into?.right)}` : name}
        items={[
          ...(wide
            ? pairs.map((pair) => ({
                words: `${name}, ${channelWords(pair.left, pair.right)}`,
                group: "Channels",
                chosen: pair.left === into?.left,
                onSelect: () => set({ into: pair }),
              }))
            : []),
          ...gear.devices
            .filter((d) => (d.outputs ?? 0) > 0 && d.id !== device?.id)
            .map((d) => ({
              words: d.name,
              hint: d.isPresent ? undefined : "unplugged",
              group: "Another in its place",
              onSelect: () => set({ end: { type: "device" as const, device: d.id }, into: { left: 0, right: 1 } }),
            })),
          { words: "No longer there", group: "Or", onSelect: () => remove.mutate(id) },
        ]}
      />{" "}
      <AtLevel of={mix.name} at={name} gain={gain} on={on} set={set} />
    </>
  );
}

function ToCable({
  mix,
  cable,
  feed,
}: {
  mix: Mix;
  cable: Show["cables"][number];
  feed: Show["cables"][number]["feeds"][number];
}) {
  const change = useChangeFeed();
  const remove = useRemoveFeed(cable.id);
  const set = (values: Parameters<typeof change.mutate>[0]["change"]) =>
    change.mutate({ cable: cable.id, from: feed.from, change: values });
  const pairs = Array.from({ length: Math.floor(cable.channels / 2) }, (_, i) => ({ left: 2 * i, right: 2 * i + 1 }));
  return (
    <>
      <Word
        label={`Where ${mix.name} goes`}
        words={cable.channels > 2 ? `${cable.name}, ${channelWords(feed.into.left ?? 0, feed.into.right)}` : cable.name}
        items={[
          ...(cable.channels > 2
            ? pairs.map((pair) => ({
                words: `${cable.name}, ${channelWords(pair.left, pair.right)}`,
                group: "Channels",
                chosen: pair.left === feed.into.left,
                onSelect: () => set({ into: pair }),
              }))
            : []),
          { words: "No longer there", group: "Or", onSelect: () => remove.mutate(feed.from) },
        ]}
      />{" "}
      <AtLevel of={mix.name} at={cable.name} gain={feed.gain} on={feed.on} set={set} />
    </>
  );
}

function AddWay({ gear, show, mix }: { gear: Gear; show: Show; mix: Mix }) {
  const add = useAddDestination(mix.id);
  const { outputs } = useOutputs();
  useEffect(() => void findOutputs(), []);
  const there = new Set(mix.destinations.map((d) => d.end.device));
  const own = [{ device: systemOutput, label: "This browser" }, ...(outputs ?? [])];
  const items: MenuItem[] = [
    ...gear.devices
      .filter((d) => (d.outputs ?? 0) > 0 && !there.has(d.id))
      .map((d) => ({
        words: d.name,
        hint: d.isPresent ? undefined : "unplugged: it goes there once it is back",
        group: "Devices",
        onSelect: () => add.mutate({ end: { type: "device", device: d.id } }),
      })),
    ...own
      .filter((o) => !there.has(o.device))
      .map((o) => ({
        words: o.label,
        group: "This browser",
        onSelect: () => add.mutate({ end: { type: "browser", client: browserId, device: o.device, label: o.label } }),
      })),
    ...show.cables
      .filter((c) => !c.feeds.some((f) => f.from === `mix/${mix.id}`))
      .map((c) => ({ words: c.name, group: "Cables", onSelect: () => undefined, cable: c.id })),
  ];
  return <AddMenu items={items} mix={mix} />;
}

function AddMenu({ items, mix }: { items: (MenuItem & { cable?: string })[]; mix: Mix }) {
  const feed = useAddFeed();
  return (
    <Menu
      trigger={
        <Button
          small
          tone="quiet"
          className="h-6"
          icon={<Plus size={12} />}
          aria-label={`Let ${mix.name} go somewhere else too`}
        >
          Somewhere else too
        </Button>
      }
      items={items.map(({ cable, ...item }) =>
        cable ? { ...item, onSelect: () => feed.mutate({ cable, from: `mix/${mix.id}` }) } : item,
      )}
    />
  );
}
