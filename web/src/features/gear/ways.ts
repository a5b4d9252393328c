import type { Mix, Show } from "@/core/api/client";
import { useShow } from "@/core/commands/show";
import { useGear } from "./known";

/** One way that a mix goes. */
export interface Way {
  name: string;
  /** Why nothing comes out there now, in a word or two; empty: it does. */
  note: string;
  /** True where nobody wanted that. */
  wrong: boolean;
}

/** Where a mix goes: devices, outputs of browsers, cables. */
export function useWays(mix: Mix): Way[] {
  const gear = useGear().data;
  const show = useShow().data;
  if (!show) return [];
  return [
    ...mix.destinations.map(({ end, on }) => {
      if (end.type === "browser") return { name: end.label, note: on ? "" : "off", wrong: false };
      const device = gear?.devices.find((d) => d.id === end.device);
      const away = gear && (!device ? "not there" : device.isPresent ? device.busyWith && "busy" : "unplugged");
      return { name: device?.name ?? end.device, note: !on ? "off" : away || "", wrong: on && Boolean(away) };
    }),
    ...feedsOf(show, mix.id).map(({ cable, feed }) => ({ name: cable.name, note: feed.on ? "" : "off", wrong: false })),
  ];
}

/** Who hears a mix: itself, the devices that it goes to now, and the programs that take it from its cables. */
export function useListeners(mix: Mix): { value: string; words: string }[] {
  const gear = useGear().data;
  const show = useShow().data;
  if (!show || !gear) return [{ value: `mix/${mix.id}`, words: mix.name }];
  const devices = mix.destinations.flatMap(({ end, on }) => {
    const device = on && end.type === "device" ? gear.devices.find((d) => d.id === end.device) : undefined;
    return device?.isPresent && !device.busyWith ? [{ value: `device/${device.id}/out`, words: device.name }] : [];
  });
  const cables = feedsOf(show, mix.id).map(({ cable }) => `cable/${cable.id}`);
  const programs = gear.apps.flatMap((app) =>
    app.isRunning
      ? app.ports
          .filter((p) => p.side === "In" && p.end !== null && cables.includes(p.end))
          .map((p) => ({ value: `app/${app.id}/${p.id}`, words: app.name }))
      : [],
  );
  return [{ value: `mix/${mix.id}`, words: mix.name }, ...devices, ...programs];
}

/** Cables that a mix plays into, with how. */
export function feedsOf(show: Show, mix: string) {
  return show.cables.flatMap((cable) =>
    cable.feeds.filter((f) => f.from.startsWith(`mix/${mix}`)).map((feed) => ({ cable, feed })),
  );
}
