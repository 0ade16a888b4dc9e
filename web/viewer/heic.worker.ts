/// <reference lib="webworker" />
import makeDecoder from 'libheif-js/libheif-wasm/libheif-bundle.mjs';

interface HeifImage {
  get_width(): number;
  get_height(): number;
  display(into: ImageData, done: (data: ImageData | null) => void): void;
  free(): void;
}
interface Decoder {
  HeifDecoder: new () => { decode(bytes: Uint8Array): HeifImage[] };
}

/** Pixels that a picture may have. */
const MOST_PIXELS = 100_000_000;

/** Decodes the first picture of a HEIC file, turned as the camera was held. */
addEventListener('message', ({ data }: MessageEvent<Uint8Array>) => {
  decode(data).then(
    (image) => postMessage({ image }, { transfer: [image] }),
    (error: unknown) => postMessage({ fault: error instanceof Error ? error.message : String(error) }),
  );
});

async function decode(bytes: Uint8Array): Promise<ImageBitmap> {
  const heif = (await makeDecoder()) as unknown as Decoder;
  const images = new heif.HeifDecoder().decode(bytes);
  try {
    const first = images[0];
    if (!first) throw new Error('There is no picture in it.');
    const [width, height] = [first.get_width(), first.get_height()];
    if (width * height > MOST_PIXELS) throw new Error('It has more pixels than can be shown.');
    const pixels = new ImageData(width, height);
    const drawn = await new Promise<ImageData | null>((done) => first.display(pixels, done));
    if (!drawn) throw new Error('Its picture is damaged.');
    return await createImageBitmap(drawn);
  } finally {
    for (const i of images) i.free();
  }
}
