import { Download, Hand, RotateCcw } from "lucide-react";
import { useState } from "react";
import type { Show } from "@/core/api/client";
import { type Call, callOf } from "@/core/hands/actions";
import {
  addressOf,
  chooseKey,
  keysOf,
  ownKeys,
  readKeys,
  resetKey,
  resetKeys,
  takeKey,
  useKeySettings,
  whyNot,
  writeKeys,
} from "@/core/hands/bindings";
import { chordOf, chordWords } from "@/core/hands/chords";
import { tell } from "@/core/notices/notices";
import { openLayer } from "@/core/place/place";
import { saveText } from "@/shared/look/save";
import { Button } from "@/shared/ui/Button";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { PickJson } from "@/shared/ui/PickJson";
import { findCalls } from "./find";
import { fixedKeys } from "./fixedKeys";
import { useThings } from "./things";

const most = 60;

/** All keys: what they do, which they are, and whether they act at all. Every action can be given another. */
export function KeysDialog({ show }: { show: Show }) {
  const settings = useKeySettings();
  const things = useThings(show);
  const [text, setText] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  // With nothing typed: what has a key, and what is about nothing in particular.
  const calls =
    text.trim() === ""
      ? [
          ...new Set([
            ...findCalls("", { screen: [] }, 1000).map((c) => c.address),
            ...ownKeys.keys(),
            ...Object.keys(settings.chosen),
          ]),
        ]
          .map((address) => callOf(address, things))
          .filter((c) => c !== null)
      : findCalls(text, things, most);
  return (
    <LayerDialog
      title="All keys"
      words="Keys act while any Kinetra window has the focus. They rest while you type into a field, and while a menu or a window like this one is open. For a game that fills the screen: a controller, messages, commands or a second screen (Hands)."
      wide
    >
      <div className="flex flex-wrap items-center gap-x-5 gap-y-1.5 text-[13px]">
        <Choice
          words="Keys of one character act"
          on={settings.single}
          onChange={(single) => useKeySettings.setState({ single })}
        />
        <Choice
          words="Alt with a pad’s key plays it on every screen"
          on={settings.padsElsewhere}
          onChange={(padsElsewhere) => useKeySettings.setState({ padsElsewhere })}
        />
      </div>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <input
          type="search"
          aria-label="Find an action"
          placeholder="Find an action: cough, dock music …"
          value={text}
          onChange={(e) => setText(e.target.value)}
          className="h-8 min-w-40 grow rounded-md border border-line bg-raised px-2 text-[13px]"
        />
        <Button icon={<Hand size={14} />} onClick={() => openLayer("hands")}>
          Hands
        </Button>
        <Button icon={<Download size={14} />} onClick={() => saveText(writeKeys(settings), "kinetra-keys.json")}>
          Export
        </Button>
        <PickJson
          label="A file of keys"
          words="Import"
          onFile={async (file) => {
            try {
              useKeySettings.setState(readKeys(await file.text()));
              tell("done", "The keys of the file act now.");
            } catch (error) {
              tell("wrong", (error as Error).message);
            }
          }}
        />
        <Button icon={<RotateCcw size={14} />} onClick={resetKeys}>
          All as they come
        </Button>
      </div>
      <ul
        aria-label="Actions and their keys"
        className="-mx-1 mt-2 flex max-h-72 flex-col overflow-auto px-1 text-[13px]"
      >
        {calls.map((call) => (
          <KeyRow
            key={call.address}
            call={call}
            asking={open === call.address}
            onAsk={(ask) => setOpen(ask ? call.address : null)}
            nameOf={(address) => callOf(address, things)?.words ?? address}
          />
        ))}
        {calls.length === 0 && <li className="text-quiet">Nothing is called so.</li>}
      </ul>
      {fixedKeys.map(({ title, keys }) => (
        <section key={title}>
          <h3 className="mt-3 mb-1.5 text-xs font-semibold text-quiet">{title}</h3>
          <dl className="mt-1 grid grid-cols-[6rem_1fr] gap-y-1 text-[13px]">
            {keys.map(([key, does]) => (
              <div key={key} className="contents">
                <dt>
                  <kbd className="rounded border border-line bg-raised px-1.5 py-0.5 font-sans text-xs">{key}</kbd>
                </dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </LayerDialog>
  );
}

function Choice({ words, on, onChange }: { words: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex w-fit items-center gap-2">
      <input type="checkbox" checked={on} onChange={(e) => onChange(e.target.checked)} className="size-4 accent-ink" />
      {words}
    </label>
  );
}

interface KeyRowProps {
  call: Call;
  asking: boolean;
  onAsk: (ask: boolean) => void;
  nameOf: (address: string) => string;
}

/** An action: its key, and another one where the person wants it. */
function KeyRow({ call, asking, onAsk, nameOf }: KeyRowProps) {
  const settings = useKeySettings();
  const [wrong, setWrong] = useState<{ words: string; take: string | null } | null>(null);
  const keys = keysOf(call.address, settings);
  const shown = keys.map(chordWords).join(", ");
  const stop = () => {
    onAsk(false);
    setWrong(null);
  };
  return (
    <li className="grid grid-cols-[7.5rem_1fr_auto] items-center gap-x-2 border-line border-t py-1 first:border-t-0">
      <button
        type="button"
        aria-label={`Key of: ${call.words}. Now ${shown || "none"}. Press, and then the key that it shall be.`}
        className={`h-6 w-fit min-w-10 rounded border px-1.5 text-xs hover:border-focus ${asking ? "border-lamp" : "border-line bg-raised"} ${shown ? "" : "text-quiet"}`}
        data-own-escape={asking ? "" : undefined}
        onClick={() => (asking ? stop() : onAsk(true))}
        onKeyDown={(e) => {
          if (!asking || e.key === "Tab") return;
          e.preventDefault();
          e.stopPropagation();
          if (e.key === "Escape") return stop();
          const chord = chordOf(e.nativeEvent);
          if (chord === null) return;
          const why = whyNot(chord, call.address, settings);
          if (why === null) {
            chooseKey(call.address, chord);
            return stop();
          }
          const other = addressOf(chord, { ...settings, single: true });
          const isTaken = why.endsWith(":") && other !== null;
          setWrong({ words: isTaken ? `${why} ${nameOf(other)}.` : why, take: isTaken ? chord : null });
        }}
      >
        {asking ? "Which key?" : shown || "None"}
      </button>
      <span className="min-w-0">
        {call.words}
        <span role="status" className="block text-xs text-wrong">
          {asking && wrong?.words}
        </span>
      </span>
      <span className="flex gap-1">
        {asking && wrong?.take && (
          <Button
            onClick={() => {
              takeKey(call.address, wrong.take ?? "");
              stop();
            }}
          >
            Take it from there
          </Button>
        )}
        {asking && keys.length > 0 && (
          <Button
            onClick={() => {
              chooseKey(call.address, null);
              stop();
            }}
          >
            None
          </Button>
        )}
        {asking && settings.chosen[call.address] !== undefined && (
          <Button
            onClick={() => {
              resetKey(call.address);
              stop();
            }}
          >
            As it comes
          </Button>
        )}
      </span>
    </li>
  );
}
