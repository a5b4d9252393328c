import type { Gear, SourceInput } from "@/core/api/client";

/** Why an input of the computer gives nothing now; null: it is there, or it is none of the computer's. */
export function awayWords(gear: Gear, input: SourceInput): string | null {
  if (input.type === "device") {
    const device = gear.devices.find((d) => d.id === input.device);
    if (!device) return "Its device is not on this computer";
    if (!device.isPresent) return `${device.name} is unplugged`;
    return device.busyWith ? `${device.name} is busy` : null;
  }
  if (input.type === "app") {
    const app = gear.apps.find((a) => a.id === input.app);
    if (!app) return "Its program is not on this computer";
    return app.isRunning ? null : `${app.name} is not running`;
  }
  return null;
}
