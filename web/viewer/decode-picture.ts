import { imageSize } from 'image-size';
import { InjectionToken } from '@angular/core';

/** Pixels that a picture may have: one that says more is not decoded. */
const MOST_PIXELS = 100_000_000;
/** Milliseconds that decoding may take. */
const PATIENCE = 20_000;

/** Decodes a photograph, turned as the camera was held; refuses with a sentence. */
export type DecodePicture = (bytes: Uint8Array<ArrayBuffer>, heic: boolean) => Promise<ImageBitmap>;

export const DECODE_PICTURE = new InjectionToken<DecodePicture>('decodes pictures', {
  providedIn: 'root',
  factory: () => (bytes, heic) => (heic ? decodeHeic(bytes) : decodeUsual(bytes)),
});

async function decodeUsual(bytes: Uint8Array<ArrayBuffer>): Promise<ImageBitmap> {
  let size: { width: number; height: number };
  try {
    size = imageSize(bytes);
  } catch {
    throw new Error('This picture is damaged and cannot be shown.');
  }
  if (size.width * size.height > MOST_PIXELS) throw new Error('This picture has more pixels than can be shown.');
  try {
    return await createImageBitmap(new Blob([bytes]), { imageOrientation: 'from-image' });
  } catch {
    throw new Error('This picture is damaged and cannot be shown.');
  }
}

/** In a worker of its own, which ends with it: what its memory grew to is given back. */
function decodeHeic(bytes: Uint8Array<ArrayBuffer>): Promise<ImageBitmap> {
  return new Promise((done, failed) => {
    const worker = new Worker(new URL('./heic.worker', import.meta.url), { type: 'module' });
    const fail = (): void => failed(new Error('This picture is damaged and cannot be shown.'));
    const timer = setTimeout(() => {
      worker.terminate();
      failed(new Error('This picture takes too long to be shown.'));
    }, PATIENCE);
    worker.onmessage = ({ data }: MessageEvent<{ image?: ImageBitmap }>) => {
      clearTimeout(timer);
      worker.terminate();
      if (data.image) done(data.image);
      else fail();
    };
    worker.onerror = () => {
      clearTimeout(timer);
      worker.terminate();
      fail();
    };
    worker.postMessage(bytes, [bytes.buffer]);
  });
}
