import { type AddressInfo, createServer } from "node:net";

/** A port that is free, for UDP and for TCP. */
export async function freePort() {
  const server = createServer();
  await new Promise<void>((then) => server.listen(0, "127.0.0.1", then));
  const { port } = server.address() as AddressInfo;
  await new Promise((then) => server.close(then));
  return port;
}
