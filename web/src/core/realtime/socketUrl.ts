/** The address of one of the server's sockets. */
export function socketUrl(path: string): string {
  return `${window.location.protocol === "https:" ? "wss" : "ws"}://${window.location.host}${path}`;
}
