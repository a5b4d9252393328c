/** A discrete Fourier transform in place, of a length that is a power of two. */
export function fft(re: Float64Array, im: Float64Array, inverse: boolean) {
  const n = re.length;
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1;
    for (; j & bit; bit >>= 1) j ^= bit;
    j ^= bit;
    if (i < j) {
      [re[i], re[j]] = [re[j] as number, re[i] as number];
      [im[i], im[j]] = [im[j] as number, im[i] as number];
    }
  }
  const [cos, sin] = turns(n);
  const sign = inverse ? 1 : -1;
  for (let length = 2; length <= n; length <<= 1) {
    const half = length / 2;
    const step = n / length;
    for (let start = 0; start < n; start += length) {
      for (let k = 0; k < half; k++) {
        const a = start + k;
        const b = a + half;
        const c = cos[k * step] as number;
        const s = sign * (sin[k * step] as number);
        const x = re[b] as number;
        const y = im[b] as number;
        const tr = x * c - y * s;
        const ti = x * s + y * c;
        re[b] = (re[a] as number) - tr;
        im[b] = (im[a] as number) - ti;
        re[a] = (re[a] as number) + tr;
        im[a] = (im[a] as number) + ti;
      }
    }
  }
}

const tables = new Map<number, [Float64Array, Float64Array]>();

function turns(n: number): [Float64Array, Float64Array] {
  const known = tables.get(n);
  if (known) return known;
  const angle = (k: number) => (2 * Math.PI * k) / n;
  const made: [Float64Array, Float64Array] = [
    Float64Array.from({ length: n / 2 }, (_, k) => Math.cos(angle(k))),
    Float64Array.from({ length: n / 2 }, (_, k) => Math.sin(angle(k))),
  ];
  tables.set(n, made);
  return made;
}
