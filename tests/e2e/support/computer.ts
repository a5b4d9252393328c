import type { Server } from "./server.ts";

interface Computer {
  roles: { role: string; end: string | null }[];
  devices: ({ id: string; inputs: Record<string, unknown>[] } & Record<string, unknown>)[];
  apps: ({ id: string; ports: { id: string; choice: unknown }[] } & Record<string, unknown>)[];
}

const ofDevice = ["isPresent", "busyWith", "rate", "bufferFrames", "isMonitoring"];
const ofInput = ["gain", "lowCut", "isExposed"];
const ofApp = ["isRunning", "isPlaying", "volume", "evensVoices", "tests"];

/** The computer as it is. */
export const computerOf = async (server: Server) => (await server.get("/api/gear")) as Computer;

/** Makes the computer as it was: what a test has changed of it is no matter of the next one. */
export async function restore(server: Server, was: Computer) {
  let now = await computerOf(server);
  for (const { id } of now.devices.filter((d) => !was.devices.some((w) => w.id === d.id)))
    await server.send("DELETE", `/api/gear/devices/${id}`, null);
  for (const device of was.devices) {
    const other = now.devices.find((d) => d.id === device.id);
    await change(server, `devices/${device.id}`, ofDevice, device, other);
    for (const [i, input] of device.inputs.entries())
      await change(server, `devices/${device.id}/inputs/${i}`, ofInput, input, other?.inputs[i]);
  }
  for (const app of was.apps) {
    const other = now.apps.find((a) => a.id === app.id);
    await change(server, `apps/${app.id}`, ofApp, app, other);
    for (const { id, choice } of app.ports)
      if (JSON.stringify(other?.ports.find((p) => p.id === id)?.choice) !== JSON.stringify(choice))
        await server.send("PUT", `/api/gear/apps/${app.id}/ports/${id}`, { choice, restart: true });
  }
  // Last: what is plugged in takes defaults.
  now = await computerOf(server);
  for (const { role, end } of was.roles)
    if (end !== null && now.roles.find((r) => r.role === role)?.end !== end)
      await server.send("PUT", `/api/gear/roles/${role}`, { end });
}

async function change(
  server: Server,
  path: string,
  fields: string[],
  was: Record<string, unknown>,
  now: Record<string, unknown> | undefined,
) {
  const other = fields.filter((f) => was[f] !== now?.[f]);
  if (other.length > 0)
    await server.send(
      "PATCH",
      `/api/gear/${path}`,
      Object.fromEntries(other.map((f) => [f, f === "busyWith" ? (was[f] ?? "") : was[f]])),
    );
}
