import { useEffect, useId, useLayoutEffect, useState } from "react";
import type { Show } from "@/core/api/client";
import { type Call, callOf } from "@/core/hands/actions";
import { keysOf } from "@/core/hands/bindings";
import { chordWords } from "@/core/hands/chords";
import { perform } from "@/core/hands/perform";
import { closeLayer } from "@/core/place/place";
import { parseGain } from "@/shared/look/format";
import { LayerDialog } from "@/shared/ui/LayerDialog";
import { takeAhead } from "./ahead";
import { findCalls, numberIn, takesNumber } from "./find";
import { lately, remember } from "./lately";
import { useThings } from "./things";

const most = 40;

/** All that can be done, found by typing: the same actions as keys, controllers, messages and commands have. */
export function Palette({ show }: { show: Show }) {
  const things = useThings(show);
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const [wrong, setWrong] = useState<string | null>(null);
  const id = useId();
  const [enter, setEnter] = useState(false);
  useLayoutEffect(() => {
    const ahead = takeAhead();
    if (ahead.text !== "") setText(ahead.text);
    setEnter(ahead.enter);
  }, []);
  const found =
    text.trim() === ""
      ? lately()
          .map((address) => callOf(address, things))
          .filter((c) => c !== null)
          .concat(findCalls("", things, most))
          .filter((c, i, all) => all.findIndex((o) => o.address === c.address) === i)
          .slice(0, most)
      : findCalls(text, things, most);
  const chosen = found[Math.min(at, found.length - 1)];
  const act = (call: Call) => {
    const number = numberIn(text);
    if (takesNumber(call.action) && (number === null || parseGain(number) === null)) {
      setWrong(
        call.action.value === "Step"
          ? "By how many dB? Type a number behind it, such as 3 or −3."
          : "How many dB? Type a number behind it, such as −6.",
      );
      return;
    }
    remember(call.address);
    closeLayer();
    perform(call.address, { value: takesNumber(call.action) ? number : null });
  };
  useEffect(() => {
    if (!enter) return;
    setEnter(false);
    if (chosen) act(chosen);
  });
  return (
    <LayerDialog title="Find something to do" words="Type what it is about. Enter does it; ↑ and ↓ choose." wide>
      <input
        // biome-ignore lint/a11y/noAutofocus: whoever opens it wants to type
        autoFocus
        role="combobox"
        aria-expanded="true"
        aria-controls={id}
        aria-activedescendant={chosen ? `${id}-${chosen.address}` : undefined}
        aria-label="What to do"
        autoComplete="off"
        spellCheck={false}
        value={text}
        placeholder="cough, dock music viewers, go to gear …"
        className="h-9 w-full rounded-md border border-line bg-raised px-3"
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
          setWrong(null);
        }}
        onKeyDown={(e) => {
          if (e.nativeEvent.isComposing) return;
          if (e.key === "ArrowDown") setAt(Math.min(at + 1, found.length - 1));
          else if (e.key === "ArrowUp") setAt(Math.max(at - 1, 0));
          else if (e.key === "Enter" && chosen) act(chosen);
          else return;
          e.preventDefault();
        }}
      />
      <p role="status" className="min-h-5 pt-1 text-xs text-wrong">
        {wrong ?? (found.length === 0 && "Nothing is called so. Other words, or fewer, may be.")}
      </p>
      {/* Of one height, so that nothing moves under the hand while somebody types. */}
      <div
        id={id}
        role="listbox"
        aria-label="What can be done"
        tabIndex={-1}
        className="h-80 max-h-[calc(50*var(--vh))] overflow-auto"
      >
        {found.map((call, i) => {
          const isChosen = call === chosen;
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: its key is Enter in the field
            <div
              key={call.address}
              id={`${id}-${call.address}`}
              role="option"
              tabIndex={-1}
              aria-selected={isChosen}
              ref={(el) => {
                if (isChosen) el?.scrollIntoView({ block: "nearest" });
              }}
              className={`flex cursor-pointer items-baseline gap-3 rounded px-2 py-1 text-[13px] ${isChosen ? "bg-raised outline outline-focus -outline-offset-1" : ""}`}
              onMouseMove={() => setAt(i)}
              onClick={() => act(call)}
            >
              <span className="min-w-0 grow truncate">{call.words}</span>
              {(takesNumber(call.action) || call.action.value === "Held") && (
                <span className="shrink-0 text-xs text-quiet">
                  {call.action.value === "Held" ? holds(call) : "… dB"}
                </span>
              )}
              {keysOf(call.address).map((chord) => (
                <kbd
                  key={chord}
                  className="shrink-0 rounded border border-line bg-raised px-1.5 font-sans text-xs text-quiet"
                >
                  {chordWords(chord)}
                </kbd>
              ))}
            </div>
          );
        })}
      </div>
    </LayerDialog>
  );
}

// A palette cannot be held down.
function holds(call: Call): string {
  return call.address.startsWith("pad/") ? "" : "until it is done again";
}
