/** Sound on its way from the socket's Worker to the AudioWorklet: shared memory, one writer, one reader, no waiting. */
export const ringFrames = 32768;

/** Places in the shared control words. */
export const Control = {
  /** Frames written so far, modulo 2³². */
  written: 0,
  /** Frames played so far, modulo 2³². */
  read: 1,
  /** 1: something is listened to, so that running dry is a gap and not an end. */
  wanted: 2,
  /** How often the sound ran dry. */
  gaps: 3,
  /** Frames thrown away since too many had piled up. */
  dropped: 4,
  /** Frames that the server says this listener lost. */
  lost: 5,
} as const;

export interface SoundRing {
  control: Int32Array;
  left: Float32Array;
  right: Float32Array;
}

export interface SharedSound {
  control: SharedArrayBuffer;
  samples: SharedArrayBuffer;
}

export function makeSharedSound(): SharedSound {
  return { control: new SharedArrayBuffer(32), samples: new SharedArrayBuffer(ringFrames * 8) };
}

export function openRing({ control, samples }: SharedSound): SoundRing {
  return {
    control: new Int32Array(control),
    left: new Float32Array(samples, 0, ringFrames),
    right: new Float32Array(samples, ringFrames * 4, ringFrames),
  };
}

/** Frames that wait to be played. */
export function waiting(control: Int32Array): number {
  return (Atomics.load(control, Control.written) - Atomics.load(control, Control.read)) | 0;
}

/** Writer: appends frames; where there is no room, the newest are thrown away and counted. */
export function write(ring: SoundRing, left: Float32Array, right: Float32Array) {
  const { control } = ring;
  const room = ringFrames - waiting(control);
  const count = Math.min(left.length, room);
  const at = Atomics.load(control, Control.written);
  for (let n = 0; n < count; n++) {
    const place = (at + n) & (ringFrames - 1);
    ring.left[place] = left[n] ?? 0;
    ring.right[place] = right[n] ?? 0;
  }
  Atomics.add(control, Control.dropped, left.length - count);
  Atomics.store(control, Control.written, (at + count) | 0);
}
