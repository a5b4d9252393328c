import { useEffect, useRef } from "react";
import type { Show } from "@/core/api/client";
import { actionOf } from "@/core/hands/actions";
import { gainAt, PickUp, positionFor } from "@/core/hands/faders";
import { bytesOf, controlOf, type MidiEvent, positionOf } from "@/core/hands/midi";
import { perform } from "@/core/hands/perform";
import { meters } from "@/core/meters/meters";
import { onSounding, type Sounding } from "@/features/pads/parts";
import { type Binding, useControllers } from "./controllers";
import { useHands } from "./hands";
import { onControl, openPorts, sendTo, usePorts } from "./ports";
import { positionIn } from "./standing";

/** A level is told no more often than this, ms: what a fader sends between is passed over by what comes after. */
const often = 20;
/** So long after a hand has moved a control, nothing is sent to it. */
const hands = 500;

/** Lets controllers act, and shows on them how things stand. Nothing is drawn. */
export function Controllers({ show }: { show: Show }) {
  const bindings = useControllers((s) => s.bindings);
  const { state, inputs } = usePorts();
  const holds = useHands().data?.holds;
  const now = useRef({ show, holds, bindings });
  now.current = { show, holds, bindings };
  const faders = useRef(new Map<string, Fader>());
  const sounding = useRef<Sounding>(new Map());
  const hasPads = bindings.some((b) => b.address.startsWith("pad/"));
  useEffect(() => {
    if (hasPads && state === "in use")
      return onSounding((now) => {
        sounding.current = now;
      });
  }, [hasPads, state]);

  // A device that is pulled out, and a window that gives its devices back, would hear of no button that goes up.
  useEffect(() => letGo(faders.current, (device) => state !== "in use" || !inputs.includes(device)), [state, inputs]);
  useEffect(() => () => letGo(faders.current, () => true), []);
  useEffect(() => void openPorts(), []);
  useEffect(
    () =>
      onControl((device, event) => {
        const control = controlOf(event);
        for (const binding of now.current.bindings)
          if (binding.device === device && binding.control === control)
            act(
              binding,
              event,
              faderOf(faders.current, binding),
              positionIn(binding.address, now.current.show, now.current.holds, sounding.current),
            );
      }),
    [],
  );
  useEffect(() => {
    if (state !== "in use") return;
    const shown = new Map<string, number>();
    // No picture of the screen is waited for: the window may be behind others.
    const timer = setInterval(() => {
      if (!meters.frame) return;
      for (const binding of now.current.bindings) {
        const position = positionIn(binding.address, now.current.show, now.current.holds, sounding.current);
        const fader = faderOf(faders.current, binding);
        if (position === null || performance.now() - fader.movedAt < hands) continue;
        const key = `${binding.device} ${binding.control}`;
        if (shown.get(key) === position) continue;
        shown.set(key, position);
        sendTo(binding.device, bytesOf(binding.control, position));
      }
    }, 50);
    return () => clearInterval(timer);
  }, [state]);
  return null;
}

interface Fader {
  binding: Binding;
  pick: PickUp;
  movedAt: number;
  /** Where the level was told to be, and where it was stored then. */
  told: number | null;
  stored: number | null;
  waiting: string | null;
  sentAt: number;
  timer: ReturnType<typeof setTimeout> | undefined;
  /** A button that is down. */
  isDown: boolean;
}

/** Lets go of what buttons of some devices hold. */
function letGo(all: Map<string, Fader>, of: (device: string) => boolean) {
  for (const fader of all.values()) {
    if (!fader.isDown || !of(fader.binding.device)) continue;
    fader.isDown = false;
    if (actionOf(fader.binding.address)?.value === "Held") perform(fader.binding.address, { value: "off" });
  }
}

function faderOf(all: Map<string, Fader>, binding: Binding): Fader {
  const { device, control, address } = binding;
  const key = `${device} ${control} ${address}`;
  const known = all.get(key) ?? {
    binding,
    pick: new PickUp(),
    movedAt: 0,
    told: null,
    stored: null,
    waiting: null,
    sentAt: 0,
    timer: undefined,
    isDown: false,
  };
  all.set(key, known);
  return known;
}

function act(binding: Binding, event: MidiEvent, fader: Fader, at: number | null) {
  const action = actionOf(binding.address);
  if (!action) return;
  const position = positionOf(event);
  fader.movedAt = performance.now();
  if (action.value === "Decibels") {
    // Until what was told is stored, the level stands where it was told to be.
    const isTold = fader.told !== null && fader.stored === at;
    if (at !== null && !fader.pick.move(position, isTold ? (fader.told ?? at) : at)) {
      fader.told = null;
      return;
    }
    const gain = gainAt(position);
    if (!isTold) fader.stored = at;
    fader.told = positionFor(gain);
    tell(binding.address, gain === null ? "off" : `${gain}`, fader);
    return;
  }
  if (action.value === "Step") {
    // Endless knobs tell by how much: 1 to 63 up, 127 to 65 down.
    const value = event.kind === "control" ? event.value : 0;
    const by = value < 64 ? value : value - 128;
    if (by !== 0) perform(binding.address, { value: `${by / 2}` });
    return;
  }
  const isDown = event.kind === "note" ? event.value > 0 : position >= 0.5;
  if (isDown === fader.isDown && event.kind !== "program") return;
  fader.isDown = event.kind !== "program" && isDown;
  if (action.value === "Held") {
    const level = binding.velocity && event.kind === "note" ? Math.max(-60, 20 * Math.log10(position || 1)) : 0;
    perform(binding.address, { value: isDown ? "on" : "off", level });
  } else if (isDown) perform(binding.address);
}

function tell(address: string, value: string, fader: Fader) {
  fader.waiting = value;
  if (fader.timer !== undefined) return;
  const send = () => {
    fader.timer = undefined;
    if (fader.waiting === null) return;
    perform(address, { value: fader.waiting });
    fader.waiting = null;
    fader.sentAt = performance.now();
  };
  // A timer of a window behind others may take a second: what can be told at once is.
  const left = often - (performance.now() - fader.sentAt);
  if (left <= 0) send();
  else fader.timer = setTimeout(send, left);
}
