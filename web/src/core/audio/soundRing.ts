/** Sound on its way from the socket's Worker to the AudioWorklet: shared memory, one writer, one reader, no waiting. */
export const ringFrames = 32768;

/** The ring's first frames stand behind its last once more, so that a few frames can always be read in a row. */
const again = 64;
const planeFrames = ringFrames + again;

/** How many arrivals are noted. */
export const arrivalNotes = 512;

/** Places in the shared control words. */
export const Control = {
  /** 1: something is listened to, so that running dry is a gap and not an end. */
  wanted: 0,
  /** How often the sound ran dry. */
  gaps: 1,
  /** Frames that the server says this listener lost. */
  lost: 2,
  /** Arrivals written, modulo 2³². */
  arrivalsWritten: 3,
  /** Arrivals read, modulo 2³². */
  arrivalsRead: 4,
  /** Counts up when the server starts its own frames over. */
  rejoins: 5,
} as const;

/** Places in the shared numbers. */
export const Place = {
  /** The engine's frame before which all is in the ring. */
  end: 0,
  /** Frames by which what is played lies behind its arrival; NaN: nothing is played. Written by the reader. */
  latency: 1,
  /** By how much the engine's clock runs fast against the sound output's, ppm. Written by the reader. */
  partsPerMillion: 2,
} as const;

export interface SoundRing {
  control: Int32Array;
  places: Float64Array;
  /** Pairs: the engine's frame before which all had arrived, and when, in frames of the sound output's clock. */
  arrivals: Float64Array;
  left: Float32Array;
  right: Float32Array;
}

export interface SharedSound {
  control: SharedArrayBuffer;
  places: SharedArrayBuffer;
  arrivals: SharedArrayBuffer;
  samples: SharedArrayBuffer;
}

export function makeSharedSound(): SharedSound {
  return {
    control: new SharedArrayBuffer(32),
    places: new SharedArrayBuffer(32),
    arrivals: new SharedArrayBuffer(arrivalNotes * 16),
    samples: new SharedArrayBuffer(planeFrames * 8),
  };
}

export function openRing({ control, places, arrivals, samples }: SharedSound): SoundRing {
  return {
    control: new Int32Array(control),
    places: new Float64Array(places),
    arrivals: new Float64Array(arrivals),
    left: new Float32Array(samples, 0, planeFrames),
    right: new Float32Array(samples, planeFrames * 4, planeFrames),
  };
}

/**
 * Writer: frames of the engine, from `frame` on, that arrived at the time `own` of the sound output's clock. What is left
 * out before them is silence; frames that go back mean that the engine started over.
 */
export function write(ring: SoundRing, frame: number, left: Float32Array, right: Float32Array, own: number) {
  const { control, places } = ring;
  let end = places[Place.end] as number;
  if (frame < end || frame > end + ringFrames) {
    if (end > 0) Atomics.add(control, Control.rejoins, 1);
    end = frame;
  }
  for (; end < frame; end++) put(ring, end, 0, 0);
  for (let n = 0; n < left.length; n++) put(ring, frame + n, left[n] as number, right[n] as number);
  places[Place.end] = frame + left.length;
  const written = Atomics.load(control, Control.arrivalsWritten);
  if (((written - Atomics.load(control, Control.arrivalsRead)) | 0) < arrivalNotes) {
    const at = (written & (arrivalNotes - 1)) * 2;
    ring.arrivals[at] = frame + left.length;
    ring.arrivals[at + 1] = own;
    Atomics.add(control, Control.arrivalsWritten, 1);
  }
}

function put(ring: SoundRing, frame: number, left: number, right: number) {
  const place = frame % ringFrames;
  ring.left[place] = left;
  ring.right[place] = right;
  if (place < again) {
    ring.left[ringFrames + place] = left;
    ring.right[ringFrames + place] = right;
  }
}
