import { Headphones } from "lucide-react";
import { Fragment } from "react";
import type { Gain, Gear, GearApp, GearPort, Show, Source } from "@/core/api/client";
import { showOn } from "@/core/place/place";
import { toggleListen, useListening } from "@/features/listen";
import { clock, gainText } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Hint } from "@/shared/ui/Hint";
import { Level } from "@/shared/ui/Level";
import type { MenuItem } from "@/shared/ui/Menu";
import { Word } from "@/shared/ui/Word";
import { choiceWords, endOptions, sameChoice } from "./ends";
import { useChangeApp, useFulfil, useMakeCable, useRepoint, useSetPort, useTakeSource, useWishPort } from "./gear";
import { Note, Sentence } from "./Sentence";

/** What a program plays and hears, and where. */
export function AppSentence({ gear, show, app }: { gear: Gear; show: Show; app: GearApp }) {
  const outs = app.ports.filter((p) => p.side === "Out");
  const ins = app.ports.filter((p) => p.side === "In");
  const points = (outs.length > 0 ? outs : ins).map((p) => `app/${app.id}/${p.id}`);
  const parts = [
    ...outs.map((port) => <Plays key={port.id} gear={gear} show={show} app={app} port={port} />),
    ...ins.map((port) => <Hears key={port.id} gear={gear} show={show} app={app} port={port} />),
  ];
  return (
    <Sentence
      name={app.name}
      at={`app/${app.id}`}
      points={app.isRunning ? points : []}
      quiet={!app.isRunning}
      below={<Below gear={gear} app={app} />}
    >
      <strong className="font-semibold">{app.name}</strong>{" "}
      {!app.isRunning && (
        <>
          is not running{app.since && ` since ${clock(app.since)}`}
          {"; it "}
        </>
      )}
      {parts.map((part, i) => (
        <Fragment key={part.key}>
          {i > 0 && (i === parts.length - 1 ? " and " : ", ")}
          {part}
        </Fragment>
      ))}
      .<Actions app={app} ins={ins} />
    </Sentence>
  );
}

/** What is to be done or known of it beyond the sentence. */
function Below({ gear, app }: { gear: Gear; app: GearApp }) {
  const change = useChangeApp();
  const set = (values: Parameters<typeof change.mutate>[0]["change"]) => change.mutate({ app: app.id, change: values });
  const notes = app.ports.filter((p) => p.note !== null);
  const unmet = gear.unmet.filter((u) => u.app === app.id);
  return (
    <>
      {notes.map((port) => (
        <Note key={port.id} tone="wrong">
          {port.name}: {port.note}
        </Note>
      ))}
      {unmet.map((u) => (
        <UnmetNote key={u.port} app={app} unmet={u} />
      ))}
      {app.isRunning && app.evensVoices === true && (
        <Note tone="quiet">
          It removes echo and evens levels: good for a voice, bad for music.
          <Button small className="h-6" onClick={() => set({ evensVoices: false })}>
            Switch that off
          </Button>
        </Note>
      )}
    </>
  );
}

/** What can be done with it. */
function Actions({ app, ins }: { app: GearApp; ins: GearPort[] }) {
  const change = useChangeApp();
  const set = (values: Parameters<typeof change.mutate>[0]["change"]) => change.mutate({ app: app.id, change: values });
  return (
    <span className="ml-1 inline-flex flex-wrap items-center gap-0.5 align-middle">
      {!app.isRunning && (
        <Button small className="h-6" aria-label={`Start ${app.name}`} onClick={() => set({ isRunning: true })}>
          Start
        </Button>
      )}
      {app.isRunning && app.plays && (
        <Button
          small
          tone="quiet"
          className="h-6"
          aria-label={`${app.isPlaying ? "Pause" : "Play"} ${app.name}`}
          onClick={() => set({ isPlaying: !app.isPlaying })}
        >
          {app.isPlaying ? "Pause" : "Play"}
        </Button>
      )}
      {app.isRunning && app.plays && <VolumeWord app={app} onChange={(volume) => set({ volume })} />}
      {app.isRunning && app.tests !== null && (
        <Button small tone="quiet" className="h-6" aria-pressed={app.tests} onClick={() => set({ tests: !app.tests })}>
          {app.tests ? "End its test sound" : "Play its test sound"}
        </Button>
      )}
      {app.isRunning && app.evensVoices === false && (
        <Button small tone="quiet" className="h-6" onClick={() => set({ evensVoices: true })}>
          Let it even levels
        </Button>
      )}
      {app.isRunning && ins.map((port) => <HearButton key={port.id} app={app} port={port} alone={ins.length === 1} />)}
      {app.isRunning &&
        ins
          .filter((port) => port.end !== null)
          .map((port) => (
            <Button
              key={port.id}
              small
              tone="quiet"
              className="h-6"
              aria-label={`Trace what ${app.name} hears${ins.length === 1 ? "" : `, ${port.name}`}`}
              onClick={() => showOn("paths", { kind: "end", point: `app/${app.id}/${port.id}` })}
            >
              Trace
            </Button>
          ))}
      {app.isRunning && (
        <Button
          small
          tone="quiet"
          className="h-6"
          aria-label={`End ${app.name}`}
          onClick={() => set({ isRunning: false })}
        >
          End
        </Button>
      )}
    </span>
  );
}

const volumes: Gain[] = [0, -3, -6, -10, -15, -20, -30, "off"];

/** How loud a program plays, by its own control. */
function VolumeWord({ app, onChange }: { app: GearApp; onChange: (volume: Gain) => void }) {
  return (
    <span className="px-1 text-xs">
      <Word
        label={`Volume of ${app.name}`}
        words={app.volume === 0 ? "at full volume" : app.volume === "off" ? "turned off" : `at ${gainText(app.volume)}`}
        quiet={app.volume === 0}
        note="Its own control. At full it keeps the most of what it plays: turn it down on the desk."
        items={volumes.map((volume) => ({
          words: volume === 0 ? "full" : gainText(volume),
          chosen: volume === app.volume,
          onSelect: () => onChange(volume),
        }))}
      />
    </span>
  );
}

function UnmetNote({ app, unmet }: { app: GearApp; unmet: Gear["unmet"][number] }) {
  const fulfil = useFulfil();
  const port = app.ports.find((p) => p.id === unmet.port);
  return (
    <Note tone={unmet.obstacle ? "wrong" : "wanted"}>
      This show wants {port?.name ?? "it"} {port?.side === "Out" ? "into" : "from"} {unmet.words}.{" "}
      {unmet.obstacle ?? (
        <Button
          small
          className="h-6"
          disabled={fulfil.isPending}
          aria-label={`${unmet.needsRestart ? "Restart it and set it" : "Set it"}: ${app.name}, ${unmet.words}`}
          onClick={() => fulfil.mutate({ app: app.id, port: unmet.port ?? undefined })}
        >
          {unmet.needsRestart ? "Restart it and set it" : "Set it"}
        </Button>
      )}
    </Note>
  );
}

/** Lets this window hear what an input gets: what the far side gets. */
function HearButton({ app, port, alone }: { app: GearApp; port: GearPort; alone: boolean }) {
  const point = `app/${app.id}/${port.id}`;
  const on = useListening((s) => s.wish.point === point);
  const words = alone ? `what ${app.name} gets` : `what ${app.name} gets as ${port.name}`;
  return (
    <span className="inline-flex items-center">
      <Level points={[point]} flat />
      <Hint text={on ? "Stop listening" : `Hear ${words}, in this window`}>
        <Button
          small
          tone={on ? "lit" : "quiet"}
          className="h-6"
          aria-pressed={on}
          aria-label={alone ? `Hear what it gets: ${app.name}` : `${port.name}: hear what ${app.name} gets`}
          icon={<Headphones size={12} />}
          onClick={() => toggleListen({ point }, words)}
        >
          {alone ? "Hear what it gets" : port.name}
        </Button>
      </Hint>
    </span>
  );
}

/** Sources that take what a port plays. */
function takersOf(show: Show, app: GearApp, port: GearPort): Source[] {
  return show.sources.filter(
    ({ input }) => input.type === "app" && input.app === app.id && (input.port === port.id || !input.port),
  );
}

function Plays({ gear, show, app, port }: { gear: Gear; show: Show; app: GearApp; port: GearPort }) {
  const takers = takersOf(show, app, port);
  const alone = takers.some(({ input }) => input.type === "app" && !input.stillPlays);
  const rest = port.isRest ? show.sources.filter(({ input }) => input.type === "everythingElse") : [];
  if (rest.length > 0) {
    const only = rest.some(({ input }) => input.type === "everythingElse" && !input.stillPlays);
    return (
      <>
        plays {port.name} {only ? "only to the desk" : "to the desk"} as {rest.map((s) => s.name).join(", ")}
        {only ? ", set to " : " and into "}
        <PortWord gear={gear} show={show} app={app} port={port} />
      </>
    );
  }
  return (
    <>
      plays {port.name}{" "}
      {takers.map((source, i) => (
        <Fragment key={source.id}>
          {i > 0 && ", "}
          <TakerWord source={source} /> as {source.name}
        </Fragment>
      ))}
      {!alone && (
        <>
          {takers.length > 0 ? " and into " : "into "}
          <PortWord gear={gear} show={show} app={app} port={port} />
        </>
      )}
    </>
  );
}

/** Whether a source takes a program's sound for itself alone. */
function TakerWord({ source }: { source: Source }) {
  const repoint = useRepoint();
  const { input } = source;
  if (input.type !== "app") return null;
  const set = (stillPlays: boolean) => repoint.mutate({ source: source.id, input: { ...input, stillPlays } });
  return (
    <Word
      label={`Where ${source.name} is heard`}
      words={input.stillPlays ? "to the desk" : "only to the desk"}
      items={[
        {
          words: "Only to the desk",
          hint: "Nothing is heard twice.",
          chosen: !input.stillPlays,
          onSelect: () => set(false),
        },
        {
          words: "To the desk, and still where it plays",
          hint: "A copy comes to the desk; you hear it again where it was.",
          chosen: input.stillPlays,
          onSelect: () => set(true),
        },
      ]}
    />
  );
}

function Hears({ gear, show, app, port }: { gear: Gear; show: Show; app: GearApp; port: GearPort }) {
  const word = <PortWord gear={gear} show={show} app={app} port={port} />;
  if (app.kind === "Call" || app.kind === "Chat")
    return (
      <>
        sends {port.name} {word}
      </>
    );
  if (app.kind === "Recorder")
    return (
      <>
        {app.ports.indexOf(port) === 0 ? "takes " : ""}
        {word} on {port.name}
      </>
    );
  return (
    <>
      {app.kind === "Game" ? "hears" : "takes"} {word} as {port.name}
    </>
  );
}

/** What a port is set to; pressed, all that it could be. */
function PortWord({ gear, show, app, port }: { gear: Gear; show: Show; app: GearApp; port: GearPort }) {
  const set = useSetPort();
  const wish = useWishPort();
  const take = useTakeSource();
  const make = useMakeCable();
  const wished = show.wishes.ports.find((p) => p.app === app.id && p.port === port.id);
  const cable = `${app.name} cable`;
  const free = !show.cables.some((c) => c.name.toLowerCase() === cable.toLowerCase()) && show.cables.length < 16;
  const items: MenuItem[] = [
    ...endOptions(gear, app, port).map((o) => ({
      words: o.words,
      group: o.group,
      hint: o.why ?? (o.restart ? "It sees this after a restart: chosen, it is restarted." : undefined),
      chosen: sameChoice(o.choice, port.choice),
      disabled: o.why !== undefined,
      onSelect: () => set.mutate({ app: app.id, port: port.id, choice: o.choice, restart: o.restart }),
    })),
    ...(free
      ? [
          {
            words: `A new cable: ${cable}`,
            group: "Cables that are not there yet",
            onSelect: () =>
              make.mutate(cable, {
                onSuccess: (now) => {
                  const made = now.cables.find((c) => c.name === cable);
                  if (made)
                    set.mutate({
                      app: app.id,
                      port: port.id,
                      choice: { type: "end", end: `cable/${made.id}` },
                      restart: true,
                    });
                },
              }),
          },
        ]
      : []),
    ...(port.side === "Out" && takersOf(show, app, port).length === 0
      ? [
          {
            words: "Take it to the desk",
            hint: "As a source of this show, and nowhere else.",
            group: "This show",
            onSelect: () =>
              take.mutate({ type: "app", app: app.id, port: port.id, stillPlays: false, loopAllowed: false }),
          },
        ]
      : []),
    ...(wished && sameChoice(wished.choice, port.choice)
      ? []
      : [
          {
            words: "This show wants it as it is now",
            group: "This show",
            onSelect: () => wish.mutate({ app: app.id, port: port.id, choice: port.choice }),
          },
        ]),
    ...(wished
      ? [
          {
            words: "It does not matter to this show",
            group: "This show",
            onSelect: () => wish.mutate({ app: app.id, port: port.id, choice: null }),
          },
        ]
      : []),
  ];
  return (
    <Word
      label={port.side === "Out" ? `${app.name} plays ${port.name} into` : `${app.name}, ${port.name}, takes`}
      words={choiceWords(gear, port.side, port.choice)}
      title={port.isFixed ? "It has no choice of its own" : app.where ? `Chosen ${app.where}` : undefined}
      quiet={port.choice.type === "nothing"}
      disabled={port.isFixed}
      items={items}
    />
  );
}
