import type { CopySource } from './copy-source';
import { markedCopy } from './marked-copy';

export type CopyAnswer = { bytes: Uint8Array<ArrayBuffer> } | { why: string };

/** Dots of a picture of words for each unit of the page. */
const SHARP = 2;

/** Words as a picture, in whatever letters this machine has. */
async function drawWords(lines: string[], size: number, colour: string): Promise<Uint8Array | null> {
  const font = `${size * SHARP}px sans-serif`;
  const measure = new OffscreenCanvas(1, 1).getContext('2d')!;
  measure.font = font;
  const width = Math.ceil(Math.max(1, ...lines.map((l) => measure.measureText(l).width)));
  const canvas = new OffscreenCanvas(
    Math.min(8_000, width),
    Math.min(8_000, Math.ceil(lines.length * size * 1.3 * SHARP)),
  );
  const context = canvas.getContext('2d')!;
  context.font = font;
  context.fillStyle = colour;
  lines.forEach((l, i) => context.fillText(l, 0, size * SHARP * (i * 1.3 + 1)));
  return new Uint8Array(await (await canvas.convertToBlob({ type: 'image/png' })).arrayBuffer());
}

addEventListener('message', ({ data }: MessageEvent<CopySource>) => {
  markedCopy(data, drawWords).then(
    (made) => {
      const bytes = Uint8Array.from(made);
      postMessage({ bytes } satisfies CopyAnswer, { transfer: [bytes.buffer] });
    },
    (error: unknown) => postMessage({ why: String(error) } satisfies CopyAnswer),
  );
});
