import { useState } from "react";
import { chooseKey, keyOf, type LetterCommand, letterCommands, useKeySettings, whyNot } from "@/core/keys/keys";
import { LayerDialog } from "@/shared/ui/LayerDialog";

const onNothing: [string, string][] = [
  ["1 – 9", "Listen to that lane; again: stop"],
  ["0", "Listen to nothing"],
  ["?", "These keys"],
];

const everywhere: [string, string][] = [["Ctrl Z", "Undo, whichever window it was; with Shift: redo"]];

const onMarker: [string, string][] = [
  ["← →", "Its send by 0.5 dB; with Shift by 0.1 dB"],
  ["Page ↑ ↓", "Its send by 3 dB"],
  ["0", "Its send to 0 dB"],
  ["Home", "Off"],
  ["M", "Mute, in its place"],
  ["D", "Into the dock"],
  ["Enter", "Into its numbers; Escape leads back"],
  ["Space", "Its numbers beside it"],
];

const inGroups: [string, string][] = [
  ["Tab", "Into a lane or the list of sources, and past it"],
  ["↑ ↓", "From one to the next in it"],
  ["← →", "Along a line of it"],
  ["Enter", "Into the numbers of a source or a mix"],
];

const onMap: [string, string][] = [
  ["→ ←", "Along a track: from a source to who hears it, and back"],
  ["↑ ↓", "To the next source, track, mix or end"],
  ["Enter", "Into its numbers and its trace; Escape leads back"],
];

const inVoice: [string, string][] = [
  ["→ ←", "Along the chain: processors, and their bypass"],
  ["Enter", "The processor large"],
  ["Shift → ←", "Moves it to another place"],
  ["Delete", "Takes it out; undo brings it back"],
  ["Arrows", "On a handle of a picture: what it stands for; with Shift finely"],
  ["Page ↑ ↓", "On a band: narrower, wider"],
  ["Enter", "On a band: another kind; with Shift the one before; Delete switches it off"],
  ["1 – 9", "On the bench: hear it without, or a variant; again: stop"],
  ["Ctrl Z", "On the bench: takes back what was done there"],
];

/** All keys: what they do, which letters they are, and whether they act at all. */
export function KeysDialog() {
  const single = useKeySettings((s) => s.single);
  return (
    <LayerDialog
      title="All keys"
      words="They rest while you type into a field, and while a menu or a window like this one is open."
    >
      <KeyList title="Everywhere" keys={everywhere} />
      <h3 className="mt-3 mb-1.5 text-xs font-semibold text-quiet">Everywhere, by one key alone</h3>
      <label className="flex w-fit items-center gap-2 text-[13px]">
        <input
          type="checkbox"
          checked={single}
          onChange={(e) => useKeySettings.setState({ single: e.target.checked })}
          className="size-4 accent-ink"
        />
        Keys of one letter or digit act
      </label>
      <p className="mt-1 text-xs text-quiet">Press one of the letters here to choose another.</p>
      <div className={single ? "" : "text-quiet"}>
        <ul className="mt-1.5 flex flex-col gap-1 text-[13px]">
          {(Object.keys(letterCommands) as LetterCommand[]).map((command) => (
            <LetterKey key={command} command={command} />
          ))}
        </ul>
        <KeyRows keys={onNothing} />
      </div>
      <KeyList title="In a lane, and in the list of sources" keys={inGroups} />
      <KeyList title="On a marker of a lane" keys={onMarker} />
      <KeyList title="On the map of paths" keys={onMap} />
      <KeyList title="In Voice" keys={inVoice} />
    </LayerDialog>
  );
}

/** A command of one letter: its key, and another one where the person wants it. */
function LetterKey({ command }: { command: LetterCommand }) {
  const settings = useKeySettings();
  const [asking, setAsking] = useState(false);
  const [wrong, setWrong] = useState<string | null>(null);
  const key = keyOf(command, settings).toUpperCase();
  const stop = () => {
    setAsking(false);
    setWrong(null);
  };
  return (
    <li className="grid grid-cols-[6rem_1fr] items-center">
      <button
        type="button"
        aria-label={`Key of: ${letterCommands[command].does}. Now ${key}. Press, and then the letter that it shall be.`}
        className="h-6 w-fit min-w-6 rounded border border-line bg-raised px-1.5 text-xs hover:border-focus"
        onClick={() => setAsking(true)}
        onBlur={stop}
        onKeyDown={(e) => {
          if (!asking || e.key === "Tab" || e.key === "Shift") return;
          e.preventDefault();
          e.stopPropagation();
          if (e.key === "Escape") return stop();
          const because = whyNot(e.key, command, settings);
          setWrong(because);
          if (because !== null) return;
          chooseKey(command, e.key);
          stop();
        }}
      >
        {asking ? "Which?" : key}
      </button>
      <span>
        {letterCommands[command].does}
        <span role="status" className="text-wrong">
          {wrong && ` ${wrong}`}
        </span>
      </span>
    </li>
  );
}

function KeyList({ title, keys }: { title: string; keys: [string, string][] }) {
  return (
    <>
      <h3 className="mt-3 mb-1.5 text-xs font-semibold text-quiet">{title}</h3>
      <KeyRows keys={keys} />
    </>
  );
}

function KeyRows({ keys }: { keys: [string, string][] }) {
  return (
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
  );
}
