import { Download, Plug, Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import type { Show } from "@/core/api/client";
import { callOf } from "@/core/hands/actions";
import { controlOf, controlWords } from "@/core/hands/midi";
import { tell } from "@/core/notices/notices";
import { saveText } from "@/shared/look/save";
import { Button } from "@/shared/ui/Button";
import { PickJson } from "@/shared/ui/PickJson";
import { bind, readProfile, takeProfile, unbind, useControllers, writeProfile } from "./controllers";
import { findCalls } from "./find";
import { closePorts, onControl, openPorts, usePorts } from "./ports";
import { useThings } from "./things";
import { Way } from "./Way";

/** Controllers: taken for this window, taught by moving, kept as profiles. */
export function ControllersPart({ show }: { show: Show }) {
  const { on, bindings } = useControllers();
  const { state, inputs } = usePorts();
  const things = useThings(show);
  const [last, setLast] = useState<string | null>(null);
  useEffect(() => onControl((device, event) => setLast(`${device}: ${controlWords(controlOf(event))}`)), []);
  return (
    <Way
      title="Controllers: MIDI"
      words="Pads, keys and faders of a device at this browser. Teach one by moving it. A fader takes hold of a level where it meets it, so that nothing jumps; lights and motors follow where the device can. They act whether this window has the focus or not."
    >
      <div className="flex flex-wrap items-center gap-2 text-[13px]">
        <Button
          tone={on && state === "in use" ? "lit" : "plain"}
          aria-pressed={on}
          icon={<Plug size={14} />}
          onClick={() => {
            useControllers.setState({ on: !on });
            if (on) closePorts();
            else void openPorts();
          }}
        >
          {on ? "In use: switch off" : "Use controllers in this window"}
        </Button>
        {on && state === "elsewhere" && (
          <>
            <span>Another window of this browser has them.</span>
            <Button onClick={() => void openPorts(true)}>Take them over</Button>
          </>
        )}
        {on && state === "refused" && (
          <span className="text-wrong">The browser does not give them: allow MIDI for this page in its settings.</span>
        )}
        {on && state === "missing" && <span className="text-wrong">This browser has no way to controllers.</span>}
        {on && state === "in use" && (
          <span className="text-quiet">
            {inputs.length === 0 ? "None is plugged in." : inputs.join(", ")}
            {last && ` · moved last: ${last}`}
          </span>
        )}
      </div>
      {on && <Teach show={show} />}
      {bindings.length > 0 && (
        <ul aria-label="Controls and what they do" className="mt-2 flex max-h-56 flex-col overflow-auto text-[13px]">
          {bindings.map((b) => {
            const call = callOf(b.address, things);
            return (
              <li
                key={`${b.device} ${b.control}`}
                className="flex flex-wrap items-center gap-x-3 border-line border-t py-1"
              >
                <span className="w-56 truncate text-quiet">
                  {b.device}: {controlWords(b.control)}
                </span>
                <span className={`min-w-40 grow ${call ? "" : "text-quiet"}`}>
                  {call?.words ?? "Nothing now: what it was about is not in this show."}
                </span>
                {b.address.endsWith("/press") && b.control.startsWith("note/") && (
                  <label className="flex items-center gap-1.5">
                    <input
                      type="checkbox"
                      checked={b.velocity === true}
                      onChange={(e) => bind({ ...b, velocity: e.target.checked })}
                      className="size-4 accent-ink"
                    />
                    Hit harder, plays louder
                  </label>
                )}
                <Button
                  square
                  tone="quiet"
                  aria-label={`Let ${controlWords(b.control)} of ${b.device} do nothing`}
                  icon={<Trash2 size={14} />}
                  onClick={() => unbind(b)}
                />
              </li>
            );
          })}
        </ul>
      )}
      <div className="mt-2 flex gap-2">
        <Button
          icon={<Download size={14} />}
          disabled={bindings.length === 0}
          onClick={() => saveText(writeProfile(bindings), "kinetra-controllers.json")}
        >
          Export the profile
        </Button>
        <PickJson
          label="A profile of controllers"
          words="Import one"
          onFile={async (file) => {
            try {
              takeProfile(readProfile(await file.text()));
              tell("done", "The controls of the profile act now.");
            } catch (error) {
              tell("wrong", (error as Error).message);
            }
          }}
        />
      </div>
    </Way>
  );
}

/** An action is chosen, and then the control that is moved next does it. */
function Teach({ show }: { show: Show }) {
  const things = useThings(show);
  const [text, setText] = useState("");
  const [taught, setTaught] = useState<{ address: string; words: string } | null>(null);
  useEffect(() => {
    if (!taught) return;
    return onControl((device, event) => {
      // Letting go of what taught the one before is no control that is meant.
      if (event.kind !== "program" && event.value === 0) return;
      bind({ device, control: controlOf(event), address: taught.address });
      setTaught(null);
      setText("");
    });
  }, [taught]);
  const found =
    text.trim() === ""
      ? []
      : findCalls(text, things, 8).filter(
          (c) => c.action.place === "Show" || c.ids.length > 0 || c.action.value === "None",
        );
  return (
    <div className="mt-2 text-[13px]">
      {taught ? (
        <p role="status" className="flex items-center gap-2 rounded-md border border-lamp px-2 py-1.5">
          <span className="grow">Now move the control that shall do it: {taught.words}.</span>
          <Button onClick={() => setTaught(null)}>Leave it</Button>
        </p>
      ) : (
        <>
          <input
            type="search"
            aria-label="Teach a control: find what it shall do"
            placeholder="Teach a control: find what it shall do"
            value={text}
            onChange={(e) => setText(e.target.value)}
            className="h-8 w-full rounded-md border border-line bg-raised px-2"
          />
          {found.length > 0 && (
            <ul aria-label="What a control can do" className="mt-1">
              {found.map((c) => (
                <li key={c.address}>
                  <button
                    type="button"
                    className="w-full rounded px-2 py-1 text-left hover:bg-raised"
                    onClick={() => setTaught({ address: c.address, words: c.words })}
                  >
                    {c.words}
                  </button>
                </li>
              ))}
            </ul>
          )}
        </>
      )}
    </div>
  );
}
