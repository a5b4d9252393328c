import { Plus, Trash2 } from "lucide-react";
import { useId } from "react";
import type { Cable, CableFeed, Show } from "@/core/api/client";
import { nameAllowed, readName } from "@/shared/forms/names";
import { gainText } from "@/shared/look/format";
import { readGain } from "@/shared/look/gains";
import { Button } from "@/shared/ui/Button";
import { Confirm } from "@/shared/ui/Dialog";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { OneOf } from "@/shared/ui/OneOf";
import { ValueField } from "@/shared/ui/ValueField";
import {
  channelChoices,
  nameOf,
  useAddCable,
  useAddFeed,
  useChangeCable,
  useChangeFeed,
  useLosses,
  useRecordFrom,
  useRemoveCable,
  useRemoveFeed,
} from "./cables";

/** All cables of the show: what plays into each, and who records from it. */
export function CablesDialog({ show }: { show: Show }) {
  const add = useAddCable();
  return (
    <LayerDialog
      title="Cables"
      words="A cable leads sound from one place to another: what is played into it is added up, and any number of sources can record it."
    >
      <div className="flex flex-col gap-4">
        {show.cables.length === 0 && <p className="text-[13px] text-quiet">There is no cable yet.</p>}
        {show.cables.map((cable) => (
          <CablePart key={cable.id} show={show} cable={cable} />
        ))}
        <Button
          className="self-start"
          icon={<Plus size={15} />}
          disabled={add.isPending}
          onClick={() => add.mutate("")}
        >
          New cable
        </Button>
      </div>
    </LayerDialog>
  );
}

function CablePart({ show, cable }: { show: Show; cable: Cable }) {
  const change = useChangeCable(cable.id);
  const ends = show.cableEnds.find((e) => e.cable === cable.id);
  const recorders = show.sources.filter((s) => s.input.type === "cable" && s.input.cable === cable.id);
  return (
    <section aria-label={cable.name} className="flex flex-col gap-2 border-line border-t pt-3">
      <div className="flex flex-wrap items-end gap-2">
        <Small label="Name" wide>
          <ValueField
            bare
            label={`Name of ${cable.name}`}
            value={cable.name}
            show={(name) => name}
            read={readName}
            allowed={nameAllowed}
            onChange={(name) => change.mutate({ name })}
            className="w-full"
          />
        </Small>
        <Small label="Channels">
          <Whole
            label={`Channels of ${cable.name}`}
            value={cable.channels}
            least={1}
            most={16}
            onChange={(channels) => change.mutate({ channels })}
          />
        </Small>
        <Small label="Buffer, frames">
          <Whole
            label={`Buffer of ${cable.name}, frames`}
            value={cable.bufferFrames}
            least={0}
            most={4096}
            onChange={(bufferFrames) => change.mutate({ bufferFrames })}
          />
        </Small>
        <RemoveButton show={show} cable={cable} />
      </div>
      {ends && (
        <p className="text-xs text-quiet">
          Programs find it as <strong className="font-medium text-ink">{ends.into}</strong> to play into, and as{" "}
          <strong className="font-medium text-ink">{ends.outOf}</strong> to take from.
        </p>
      )}
      {ends?.closeTo && (
        <p role="status" className="text-xs text-wrong">
          It could be taken for {ends.closeTo}: in a hurry, one of the two is picked for the other.
        </p>
      )}
      <h3 className="text-xs font-semibold text-quiet">Plays into it</h3>
      <ul className="flex flex-col gap-1">
        {cable.feeds.map((feed) => (
          <FeedRow key={feed.from} show={show} cable={cable} feed={feed} />
        ))}
      </ul>
      <AddFeed show={show} cable={cable} />
      <h3 className="text-xs font-semibold text-quiet">Records from it</h3>
      <p className="text-[13px]">{recorders.length === 0 ? "Nobody yet." : recorders.map((s) => s.name).join(", ")}</p>
      <AddRecorder cable={cable} />
    </section>
  );
}

/** Says who loses what, and removes the cable then. */
function RemoveButton({ show, cable }: { show: Show; cable: Cable }) {
  const remove = useRemoveCable(cable.id);
  const losses = useLosses(show);
  const known = losses.data?.find((l) => l.cable === cable.id);
  const said = known?.obstacle ? [known.obstacle] : (known?.losses ?? []);
  const none = losses.isError
    ? "It could not be found out who would lose what."
    : known
      ? "Nobody loses anything."
      : "Finding out who would lose what …";
  return (
    <Confirm
      trigger={
        <Button
          tone="quiet"
          square
          aria-label={`Remove ${cable.name} …`}
          title="Remove it"
          icon={<Trash2 size={15} />}
        />
      }
      title={`Remove ${cable.name}?`}
      words={
        <ul className="flex flex-col gap-0.5">
          {(said.length === 0 ? [none] : said).map((w) => (
            <li key={w}>{w}</li>
          ))}
        </ul>
      }
      action="Remove it"
      disabled={known ? known.obstacle !== null : !losses.isError}
      onConfirm={() => remove.mutate()}
    />
  );
}

function FeedRow({ show, cable, feed }: { show: Show; cable: Cable; feed: CableFeed }) {
  const change = useChangeFeed();
  const remove = useRemoveFeed(cable.id);
  const name = nameOf(show, feed.from);
  const set = (values: Parameters<typeof change.mutate>[0]["change"]) =>
    change.mutate({ cable: cable.id, from: feed.from, change: values });
  const choices = feed.from.startsWith("cable/")
    ? channelChoices(cable.channels).filter((c) => c.right === null)
    : channelChoices(cable.channels);
  return (
    <li className="flex flex-wrap items-center gap-2 text-[13px]">
      <label className="flex min-w-24 grow items-center gap-2">
        <input type="checkbox" checked={feed.on} onChange={(e) => set({ on: e.target.checked })} />
        <span className="min-w-0 break-words">{name}</span>
      </label>
      <ValueField
        bare
        label={`Level of ${name} in ${cable.name}`}
        value={feed.gain}
        show={gainText}
        read={readGain}
        allowed="−120 to +12 dB, or off"
        onChange={(gain) => set({ gain })}
        className="w-20"
      />
      <OneOf
        label={`Channels that ${name} fills in ${cable.name}`}
        value={choices.find((c) => c.left === feed.into.left && (c.right ?? null) === (feed.into.right ?? null))}
        options={choices.map((c) => ({
          value: c,
          words: feed.from.startsWith("cable/") ? `from ${c.words} on` : c.words,
        }))}
        onChange={({ left, right }) => set({ into: { left, right } })}
      />
      <Button
        tone="quiet"
        square
        aria-label={`${name} no longer plays into ${cable.name}`}
        icon={<Trash2 size={15} />}
        onClick={() => remove.mutate(feed.from)}
      />
    </li>
  );
}

function AddFeed({ show, cable }: { show: Show; cable: Cable }) {
  const add = useAddFeed();
  const there = new Set(cable.feeds.map((f) => f.from.split("/")[1]));
  const groups: { words: string; of: { from: string; id: string; name: string }[] }[] = [
    { words: "Mixes", of: show.mixes.map((m) => ({ from: `mix/${m.id}`, id: m.id, name: m.name })) },
    { words: "Sources", of: show.sources.map((s) => ({ from: `source/${s.id}`, id: s.id, name: s.name })) },
    {
      words: "Cables",
      of: show.cables.filter((c) => c.id !== cable.id).map((c) => ({ from: `cable/${c.id}`, id: c.id, name: c.name })),
    },
  ];
  return (
    <OneOf
      label={`Let something play into ${cable.name}`}
      empty="Let something play into it …"
      className="self-start"
      disabled={add.isPending}
      options={groups.flatMap((g) =>
        g.of.filter((o) => !there.has(o.id)).map((o) => ({ value: o.from, words: o.name, group: g.words })),
      )}
      onChange={(from) => add.mutate({ cable: cable.id, from })}
    />
  );
}

function AddRecorder({ cable }: { cable: Cable }) {
  const record = useRecordFrom(cable.id);
  return (
    <OneOf
      label={`Add a source that records from ${cable.name}`}
      empty="Add a source that records …"
      className="self-start"
      disabled={record.isPending}
      options={channelChoices(cable.channels).map((c) => ({ value: c, words: c.words }))}
      onChange={({ left, right }) => record.mutate({ left, right })}
    />
  );
}

function Small({ label, wide, children }: { label: string; wide?: boolean; children: React.ReactNode }) {
  const id = useId();
  return (
    <div className={`flex flex-col gap-0.5 ${wide ? "min-w-32 grow" : ""}`}>
      <span id={id} className="text-xs text-quiet" aria-hidden="true">
        {label}
      </span>
      {children}
    </div>
  );
}

function Whole(props: {
  label: string;
  value: number;
  least: number;
  most: number;
  onChange: (value: number) => void;
}) {
  const { least, most } = props;
  return (
    <ValueField
      bare
      label={props.label}
      value={props.value}
      show={(n) => String(n)}
      read={(text) => {
        const n = Number(text.trim());
        return Number.isInteger(n) && n >= least && n <= most ? n : null;
      }}
      allowed={`a whole number from ${least} to ${most}`}
      step={(n, by) => Math.min(most, Math.max(least, n + by))}
      onChange={props.onChange}
      className="w-20"
    />
  );
}
