import { Plus, Trash2 } from "lucide-react";
import { useId } from "react";
import type { Cable, CableFeed, Show } from "../api/client";
import { readGain } from "../desk/gains";
import { useDesk } from "../desk/selection";
import { gainText } from "../look/format";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { ValueField } from "../ui/ValueField";
import {
  channelChoices,
  nameOf,
  useAddCable,
  useAddFeed,
  useChangeCable,
  useChangeFeed,
  useRecordFrom,
  useRemoveCable,
  useRemoveFeed,
} from "./cables";

const choice = "h-8 min-w-0 rounded-md border border-line bg-ground px-2 text-[13px]";

/** All cables of the show: what plays into each, and who records from it. */
export function CablesDialog({ show }: { show: Show }) {
  const open = useDesk((s) => s.cables);
  const add = useAddCable();
  return (
    <Dialog
      open={open}
      onOpenChange={(cables) => useDesk.setState({ cables })}
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
    </Dialog>
  );
}

function CablePart({ show, cable }: { show: Show; cable: Cable }) {
  const change = useChangeCable(cable.id);
  const remove = useRemoveCable(cable.id);
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
            read={(text) => (text.trim() === "" || text.length > 60 ? null : text.trim())}
            allowed="1 to 60 characters"
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
        <Button
          tone="quiet"
          square
          aria-label={recorders.length > 0 ? `${cable.name} is recorded and cannot be removed` : `Remove ${cable.name}`}
          title={recorders.length > 0 ? "A source records from it" : "Remove it"}
          disabled={recorders.length > 0}
          icon={<Trash2 size={15} />}
          onClick={() => remove.mutate()}
        />
      </div>
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
      <select
        aria-label={`Channels that ${name} fills in ${cable.name}`}
        className={choice}
        value={`${feed.into.left}/${feed.into.right ?? ""}`}
        onChange={(e) => {
          const found = choices.find((c) => `${c.left}/${c.right ?? ""}` === e.target.value);
          if (found) set({ into: { left: found.left, right: found.right } });
        }}
      >
        {choices.map((c) => (
          <option key={c.words} value={`${c.left}/${c.right ?? ""}`}>
            {feed.from.startsWith("cable/") ? `from ${c.words} on` : c.words}
          </option>
        ))}
      </select>
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
  const add = useAddFeed(cable.id);
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
    <select
      aria-label={`Let something play into ${cable.name}`}
      className={`${choice} self-start`}
      value=""
      disabled={add.isPending}
      onChange={(e) => {
        const found = groups.flatMap((g) => g.of).find((o) => o.id === e.target.value);
        if (found) add.mutate(found.from);
      }}
    >
      <option value="">Let something play into it …</option>
      {groups
        .filter((g) => g.of.some((o) => !there.has(o.id)))
        .map((g) => (
          <optgroup key={g.words} label={g.words}>
            {g.of
              .filter((o) => !there.has(o.id))
              .map((o) => (
                <option key={o.id} value={o.id}>
                  {o.name}
                </option>
              ))}
          </optgroup>
        ))}
    </select>
  );
}

function AddRecorder({ cable }: { cable: Cable }) {
  const record = useRecordFrom(cable.id);
  const choices = channelChoices(cable.channels);
  return (
    <select
      aria-label={`Add a source that records from ${cable.name}`}
      className={`${choice} self-start`}
      value=""
      disabled={record.isPending}
      onChange={(e) => {
        const found = choices.find((c) => c.words === e.target.value);
        if (found) record.mutate({ left: found.left, right: found.right });
      }}
    >
      <option value="">Add a source that records …</option>
      {choices.map((c) => (
        <option key={c.words} value={c.words}>
          {c.words}
        </option>
      ))}
    </select>
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
