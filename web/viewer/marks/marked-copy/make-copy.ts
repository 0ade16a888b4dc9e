import type { BoardMark } from '../board-mark';
import type { CopySource } from './copy-source';
import type { CopyAnswer } from './marked-copy.worker';
import type { ReadyFile } from '../../ready-files';

/** Milliseconds that a copy may take. */
const PATIENCE = 60_000;
/** Dots that a picture of the copy is wide and high at most. */
const MOST_DOTS = 4_000;

/** What the copy is made of: the PDF as it is, a picture as it is seen. */
export async function copySource(
  ready: ReadyFile | null,
  bytes: () => Promise<Uint8Array<ArrayBuffer>>,
  name: string,
  marks: readonly (BoardMark & { at: string })[],
): Promise<CopySource> {
  const plain = marks.map(({ id, mark, by, at }) => ({ id, mark, by, at }));
  if (ready?.as === 'pdf') return { kind: 'pdf', bytes: await bytes(), name, marks: plain };
  if (ready?.as !== 'picture') return { kind: 'none', bytes: new Uint8Array(), name, marks: plain };
  const { picture } = ready;
  const scale = Math.min(1, MOST_DOTS / Math.max(picture.width, picture.height));
  const canvas = new OffscreenCanvas(Math.round(picture.width * scale), Math.round(picture.height * scale));
  canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const jpeg = await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 });
  return { kind: 'jpeg', bytes: new Uint8Array(await jpeg.arrayBuffer()), name, marks: plain };
}

/** Makes the copy beside the page, in a worker that ends with it; refuses with a sentence. */
export function makeCopy(source: CopySource): Promise<Uint8Array<ArrayBuffer>> {
  return new Promise((done, failed) => {
    const worker = new Worker(new URL('./marked-copy.worker', import.meta.url), { type: 'module' });
    const end = (act: () => void): void => {
      clearTimeout(timer);
      worker.terminate();
      act();
    };
    const fail = (): void => end(() => failed(new Error('The marked copy could not be made of this file.')));
    const timer = setTimeout(fail, PATIENCE);
    worker.onerror = fail;
    worker.onmessage = ({ data }: MessageEvent<CopyAnswer>) => {
      if ('why' in data) console.error('marked copy', data.why);
      if ('bytes' in data) end(() => done(data.bytes));
      else fail();
    };
    worker.postMessage(source, [source.bytes.buffer]);
  });
}
