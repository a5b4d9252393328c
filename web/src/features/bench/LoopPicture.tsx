import { useMemo } from "react";
import type { SoundPicture } from "@/core/api/client";
import { Drawing, type Ink } from "@/features/voice/parts";

interface Props {
  label: string;
  words: string;
  picture: SoundPicture | undefined;
  position: { share: number };
  color: string;
  seconds: number;
}

/** The share of the height that the waveform has. */
const wave = 0.3;
/** What the softest shade stands for, of 255: about −90 dBFS. */
const softest = 26;

/** A stretch of sound: its waveform over its spectrogram, and where it is now. */
export function LoopPicture({ label, words, picture, position, color, seconds }: Props) {
  const read = useMemo(
    () =>
      picture && {
        columns: picture.columns,
        rows: picture.rows,
        levels: bytes(picture.levels),
        least: new Int8Array(bytes(picture.least).buffer),
        most: new Int8Array(bytes(picture.most).buffer),
      },
    [picture],
  );
  const drawn = useMemo(() => ({ key: "", of: null as Read | null, canvas: null as HTMLCanvasElement | null }), []);
  return (
    <figure className="relative min-h-0 overflow-hidden rounded-md border border-line">
      <Drawing
        label={label}
        color={color}
        draw={(context, width, height, ink) => {
          if (!read) return;
          const top = height * wave;
          context.fillStyle = ink.own;
          for (let x = 0; x < width; x++) {
            const column = Math.min(read.columns - 1, Math.floor((x / width) * read.columns));
            const from = top / 2 - ((read.most[column] ?? 0) / 127) * (top / 2 - 2);
            const to = top / 2 - ((read.least[column] ?? 0) / 127) * (top / 2 - 2);
            context.fillRect(x, from, 1, Math.max(1, to - from));
          }
          const key = `${ink.ink} ${ink.halo} ${read.columns}`;
          if (drawn.key !== key || drawn.canvas === null || drawn.of !== read) {
            drawn.canvas = shades(read, ink);
            drawn.key = key;
            drawn.of = read;
          }
          context.imageSmoothingEnabled = true;
          context.drawImage(drawn.canvas, 0, top, width, height - top);
          context.fillStyle = ink.quiet;
          for (const [hertz, words] of [
            [100, "100"],
            [1000, "1k"],
            [10_000, "10k"],
          ] as const) {
            const y = height - (Math.log(hertz / 60) / Math.log(16_000 / 60)) * (height - top);
            context.fillText(words, width - 26, y + 3);
          }
          const every = seconds > 12 ? 5 : 1;
          for (let s = every; s < seconds; s += every) context.fillText(`${s} s`, (s / seconds) * width + 2, top - 2);
          context.fillStyle = ink.lamp;
          context.fillRect(position.share * width - 1, 0, 2, height);
        }}
      />
      <figcaption className="absolute top-1 left-1.5 max-w-60 truncate rounded bg-surface/85 px-1 text-xs font-medium">
        {words}
      </figcaption>
    </figure>
  );
}

type Read = { columns: number; rows: number; levels: Uint8Array };

/** The spectrogram in one ink: the louder, the darker on light, and the lighter on dark. */
function shades({ columns, rows, levels }: Read, ink: Ink): HTMLCanvasElement {
  const canvas = document.createElement("canvas");
  canvas.width = columns;
  canvas.height = rows;
  const context = canvas.getContext("2d");
  if (!context) return canvas;
  const image = context.createImageData(columns, rows);
  const [from, to] = [rgb(context, ink.halo), rgb(context, ink.ink)];
  for (let c = 0; c < columns; c++)
    for (let r = 0; r < rows; r++) {
      const share = Math.min(1, Math.max(0, ((levels[c * rows + r] ?? 0) - softest) / (235 - softest)));
      const at = ((rows - 1 - r) * columns + c) * 4;
      for (let k = 0; k < 3; k++) image.data[at + k] = (from[k] ?? 0) + ((to[k] ?? 0) - (from[k] ?? 0)) * share ** 1.4;
      image.data[at + 3] = 255;
    }
  context.putImageData(image, 0, 0);
  return canvas;
}

function rgb(context: CanvasRenderingContext2D, color: string): number[] {
  context.fillStyle = color;
  context.fillRect(0, 0, 1, 1);
  return [...context.getImageData(0, 0, 1, 1).data.subarray(0, 3)];
}

function bytes(base64: string): Uint8Array<ArrayBuffer> {
  return Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
}
