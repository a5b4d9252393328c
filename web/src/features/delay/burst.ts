/** Frames of one burst: a maximum-length sequence, so that it is found to the frame wherever it arrives. */
export const burstFrames = 1023;

/** A burst begins with each so many frames of the sound output's clock. */
export const burstEvery = 24_000;

const level = 0.1;

/** The burst: ±0.1 from a shift register of ten stages with feedback x¹⁰ + x⁷ + 1. */
export function makeBurst(): Float32Array {
  const burst = new Float32Array(burstFrames);
  let register = 1;
  for (let n = 0; n < burstFrames; n++) {
    burst[n] = (register & 1) === 1 ? level : -level;
    const bit = ((register >> 0) ^ (register >> 3)) & 1;
    register = (register >> 1) | (bit << 9);
  }
  return burst;
}

/**
 * What must be there of a burst. One that arrives in the middle between two frames, through two resamplers, is half of it at
 * each; noise as loud as the burst reaches a tenth.
 */
const enough = 0.3;

/** Where a burst begins in a sound, by correlation, to the frame; null: it is not there. */
export function findBurst(burst: Float32Array, sound: Float32Array): number | null {
  let best = 0;
  let at = -1;
  let own = 0;
  for (const x of burst) own += x * x;
  for (let lag = 0; lag + burst.length <= sound.length; lag++) {
    let sum = 0;
    for (let n = 0; n < burst.length; n++) sum += (burst[n] as number) * (sound[lag + n] as number);
    if (sum > best) {
      best = sum;
      at = lag;
    }
  }
  return best > own * enough ? at : null;
}
