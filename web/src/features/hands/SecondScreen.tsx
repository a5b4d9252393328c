import { MonitorSmartphone, Trash2 } from "lucide-react";
import { useState } from "react";
import { encode } from "uqr";
import type { Show } from "@/core/api/client";
import type { components } from "@/core/api/generated/schema";
import { clock } from "@/shared/look/format";
import { Button } from "@/shared/ui/Button";
import { Failed, Loading } from "@/shared/ui/State";
import { ValueField } from "@/shared/ui/ValueField";
import { useSecondScreen, useSetSecondScreen, useThrowOut } from "./secondScreen";
import { Way } from "./Way";

type State = components["schemas"]["SecondScreenDocument"];
type Rights = components["schemas"]["ScreenRights"];

/** A phone or tablet as a board: switched on, given what it may do, shown the way in, thrown out. */
export function SecondScreen({ show }: { show: Show }) {
  const state = useSecondScreen();
  return (
    <Way
      title="A second screen"
      words="A phone or tablet on the same network as a pad board, cough button and remote for lanes. It is let in by a passphrase, over TLS, and may do only what you give it."
    >
      {state.error ? (
        <Failed error={state.error} retry={() => void state.refetch()} />
      ) : state.data ? (
        <Settings show={show} state={state.data} />
      ) : (
        <Loading what="how second screens stand" />
      )}
    </Way>
  );
}

function Settings({ show, state }: { show: Show; state: State }) {
  const set = useSetSecondScreen();
  const [passphrase, setPassphrase] = useState("");
  // Proposed until somebody chooses; from then on none is none.
  const [isChosen, setChosen] = useState(false);
  const addresses = state.addresses.length > 0 || isChosen ? state.addresses : state.machine.slice(0, 1);
  const isShort = passphrase.length < 8;
  return (
    <div className="flex flex-col gap-3 text-[13px]">
      <fieldset>
        <legend className="mb-1 text-quiet">At which of this machine’s addresses</legend>
        <div className="flex flex-wrap gap-x-4 gap-y-1">
          {state.machine.map((address) => (
            <Check
              key={address}
              words={address.startsWith("127.") ? `${address}: this machine alone, to try it` : address}
              on={addresses.includes(address)}
              onChange={(on) => {
                setChosen(true);
                set.mutate({ addresses: on ? [...addresses, address] : addresses.filter((a) => a !== address) });
              }}
            />
          ))}
        </div>
      </fieldset>
      <ValueField
        label="Port"
        value={state.port}
        show={String}
        read={(text) => {
          const port = /^\d{4,5}$/.test(text.trim()) ? Number(text) : 0;
          return port >= 1024 && port <= 65535 ? port : null;
        }}
        allowed="A number from 1024 to 65535."
        onChange={(port) => set.mutate({ port })}
        className="max-w-72"
      />
      <RightsOf show={show} rights={state.rights} onChange={(rights) => set.mutate({ rights })} />
      <form
        className="flex flex-wrap items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (isShort) return;
          set.mutate({ passphrase, on: true, addresses }, { onSuccess: () => setPassphrase("") });
        }}
      >
        <label className="flex flex-col gap-1 text-quiet">
          {state.hasPassphrase ? "Another passphrase" : "Passphrase, 8 characters or more"}
          <input
            value={passphrase}
            autoComplete="off"
            spellCheck={false}
            onChange={(e) => setPassphrase(e.target.value)}
            className="h-8 w-60 rounded-md border border-line bg-raised px-2 text-ink"
          />
        </label>
        {(!state.hasPassphrase || passphrase !== "") && (
          <Button type="submit" disabled={isShort}>
            {state.hasPassphrase ? "Choose it, and throw all out" : "Let second screens in"}
          </Button>
        )}
        {state.hasPassphrase && (
          <Button
            tone={state.on ? "lit" : "plain"}
            aria-pressed={state.on}
            disabled={set.isPending}
            icon={<MonitorSmartphone size={14} />}
            onClick={() => set.mutate(state.on ? { on: false } : { on: true, addresses })}
          >
            {state.on ? "Let in: switch off" : "Let second screens in"}
          </Button>
        )}
      </form>
      {state.problem && <p className="text-wrong">{state.problem}</p>}
      {state.on && !state.problem && <WayIn state={state} />}
      {state.devices.length > 0 && <Devices devices={state.devices} />}
    </div>
  );
}

function Check({ words, on, onChange }: { words: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-2">
      <input type="checkbox" checked={on} onChange={(e) => onChange(e.target.checked)} className="size-4 accent-ink" />
      {words}
    </label>
  );
}

const plain = [
  ["pads", "Pads"],
  ["cues", "Cues"],
  ["hush", "Hush"],
  ["record", "Record"],
] as const;

function RightsOf({ show, rights, onChange }: { show: Show; rights: Rights; onChange: (rights: Rights) => void }) {
  const list = (key: "voices" | "talkTo" | "lanes", id: string, on: boolean) => {
    const before = rights[key] ?? [];
    onChange({ ...rights, [key]: on ? [...before, id] : before.filter((x) => x !== id) });
  };
  const voices = show.sources.filter((s) => s.kind === "Microphone" || rights.voices?.includes(s.id));
  const lists = [
    ["Cough, and talkback of", "voices", voices],
    ["Talkback to", "talkTo", show.mixes],
    ["Levels in", "lanes", show.mixes],
  ] as const;
  return (
    <fieldset className="flex flex-col gap-1.5">
      <legend className="mb-1 text-quiet">What it may do</legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {plain.map(([key, words]) => (
          <Check key={key} words={words} on={rights[key]} onChange={(on) => onChange({ ...rights, [key]: on })} />
        ))}
      </div>
      {lists.map(
        ([title, key, things]) =>
          things.length > 0 && (
            <div key={key} className="grid grid-cols-[9.5rem_1fr] gap-x-2">
              <span className="text-quiet">{title}</span>
              <span className="flex flex-wrap gap-x-4 gap-y-1">
                {things.map(({ id, name }) => (
                  <Check
                    key={id}
                    words={name}
                    on={rights[key]?.includes(id) === true}
                    onChange={(on) => list(key, id, on)}
                  />
                ))}
              </span>
            </div>
          ),
      )}
    </fieldset>
  );
}

function WayIn({ state }: { state: State }) {
  const [first] = state.addresses;
  if (first === undefined) return null;
  const address = `https://${first}:${state.port}/`;
  return (
    <div className="flex flex-wrap items-start gap-4">
      <Code text={address} />
      <div className="min-w-0 grow basis-60">
        <p>
          Scan it, or open{" "}
          {state.addresses.map((a) => (
            <code key={a} className="mr-2 select-all">
              https://{a}:{state.port}/
            </code>
          ))}
        </p>
        <p className="mt-1 text-quiet">
          The device says that it does not know the certificate: it is this machine’s own, and nobody else vouches for
          it. It is the right one if its SHA-256 is
        </p>
        <code className="mt-1 block text-xs break-words">{state.fingerprint}</code>
      </div>
    </div>
  );
}

/** A code to scan (QR, ISO/IEC 18004). Dark on light in both themes: scanners want it so. */
function Code({ text }: { text: string }) {
  const { data, size } = encode(text, { ecc: "M", border: 3 });
  const path = data
    .flatMap((row, y) => row.map((dark, x) => (dark ? `M${x} ${y}h1v1h-1z` : "")))
    .filter(Boolean)
    .join("");
  return (
    <svg
      viewBox={`0 0 ${size} ${size}`}
      className="size-36 shrink-0 rounded bg-white"
      role="img"
      aria-label={`A code for ${text}`}
    >
      <path d={path} fill="#000" shapeRendering="crispEdges" />
    </svg>
  );
}

function Devices({ devices }: { devices: State["devices"] }) {
  const out = useThrowOut();
  return (
    <ul aria-label="Devices that were let in" className="flex flex-col">
      {devices.map((d) => (
        <li key={d.id} className="flex items-center gap-2 border-line border-t py-1">
          <span className="min-w-0 grow truncate">
            {d.name}{" "}
            <span className="text-quiet">
              from {d.address}, since {clock(d.since)}
            </span>
            {!d.isThere && <span className="text-quiet"> · not there now</span>}
          </span>
          <Button icon={<Trash2 size={13} />} aria-label={`Throw ${d.name} out`} onClick={() => out.mutate(d.id)}>
            Throw out
          </Button>
        </li>
      ))}
    </ul>
  );
}
