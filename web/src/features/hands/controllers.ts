import { create } from "zustand";
import { actionOf } from "@/core/hands/actions";
import { isControl } from "@/core/hands/midi";

/** What a control of a device does. */
export interface Binding {
  /** The device, by the name that the browser gives it. */
  device: string;
  control: string;
  address: string;
  /** Of a pad: how hard it was hit is how loud it plays. */
  velocity?: boolean;
}

interface Controllers {
  /** Whether this browser uses them at all. */
  on: boolean;
  bindings: readonly Binding[];
}

/** The most controls of one profile. */
export const mostBindings = 512;

const stored = "kinetra.controllers";

/** Reads a profile; throws with words where it is none. */
export function readProfile(text: string): Binding[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new Error("This file is no JSON. Allowed: a profile that was exported here.");
  }
  const list = (value as { bindings?: unknown } | null)?.bindings;
  if (!Array.isArray(list)) throw new Error("This file holds no controls. Allowed: a profile that was exported here.");
  if (list.length > mostBindings)
    throw new Error(`bindings: These are ${list.length} controls. Allowed: at most ${mostBindings}.`);
  const seen = new Set<string>();
  return list.map((item: unknown, i) => {
    const { device, control, address, velocity } = (item ?? {}) as Record<string, unknown>;
    const where = `bindings[${i}]`;
    if (typeof device !== "string" || device.length === 0 || device.length > 200)
      throw new Error(`${where}.device: This is no name of a device. Allowed: 1 to 200 characters.`);
    if (typeof control !== "string" || !isControl(control))
      throw new Error(
        `${where}.control: “${String(control)}” is no control. Allowed: such as note/1/60 or control/1/7.`,
      );
    if (typeof address !== "string" || actionOf(address) === null)
      throw new Error(`${where}.address: “${String(address)}” is no action. Allowed: an address of docs/control.md.`);
    const key = `${device} ${control}`;
    if (seen.has(key))
      throw new Error(`${where}: ${control} of ${device} stands there twice. Allowed: one action each.`);
    seen.add(key);
    return { device, control, address, ...(velocity === true ? { velocity } : {}) };
  });
}

/** A profile as a file: all controls, or those of one device. */
export function writeProfile(bindings: readonly Binding[]): string {
  return JSON.stringify({ kind: "kinetra-controllers", version: 1, bindings }, null, 2);
}

function remembered(): Controllers {
  try {
    const text = localStorage.getItem(stored) ?? '{"bindings":[]}';
    return { on: (JSON.parse(text) as { on?: boolean }).on === true, bindings: readProfile(text) };
  } catch {
    return { on: false, bindings: [] };
  }
}

/** This browser's controls, kept over a reload. */
export const useControllers = create<Controllers>(remembered);

useControllers.subscribe(({ on, bindings }) => {
  try {
    localStorage.setItem(stored, JSON.stringify({ on, ...JSON.parse(writeProfile(bindings)) }));
  } catch {
    // A browser that keeps nothing has no controls after a reload.
  }
});

/** Lets a control do something, in place of what it did. */
export function bind(binding: Binding) {
  useControllers.setState(({ bindings }) => ({
    bindings: [
      ...bindings.filter((b) => !(b.device === binding.device && b.control === binding.control)),
      binding,
    ].slice(-mostBindings),
  }));
}

/** Lets a control do nothing. */
export function unbind({ device, control }: Binding) {
  useControllers.setState(({ bindings }) => ({
    bindings: bindings.filter((b) => !(b.device === device && b.control === control)),
  }));
}

/** Puts a profile beside what there is: its devices' controls become as it says. */
export function takeProfile(profile: Binding[]) {
  const devices = new Set(profile.map((b) => b.device));
  useControllers.setState(({ bindings }) => ({
    bindings: [...bindings.filter((b) => !devices.has(b.device)), ...profile].slice(-mostBindings),
  }));
}
