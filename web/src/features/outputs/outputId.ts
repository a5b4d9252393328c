/** The device that a browser's output is, as the server names it: FNV-1a, 64 bits, of both names. */
export function outputId(client: string, device: string): string {
  let hash = 14695981039346656037n;
  for (const byte of new TextEncoder().encode(`${client}\n${device}`))
    hash = ((hash ^ BigInt(byte)) * 1099511628211n) & 0xffffffffffffffffn;
  return `browser-${hash.toString(16).padStart(16, "0")}`;
}
