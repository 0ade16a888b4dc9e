import jpeg from 'jpeg-js';
import type { Random } from '../random';

/** How a camera was held: 1 upright, 6 turned to the right, 8 to the left, 3 upside down. */
export type Turn = 1 | 3 | 6 | 8;

/** A made-up photograph of a field sheet: a page with written lines on the earth, as a JPEG that says how it was turned. */
export function photograph(random: Random, turn: Turn = 1, width = 480, height = 360): Buffer {
  const data = Buffer.alloc(width * height * 4);
  const tilt = (random.next() - 0.5) * 0.12;
  const lines = 9 + Math.floor(random.next() * 5);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [x / width - 0.5, y / height - 0.5];
      const [a, b] = [u + v * tilt, v - u * tilt];
      const onSheet = Math.abs(a) < 0.36 && Math.abs(b) < 0.42;
      const grain = random.next();
      let rgb: [number, number, number] = [92 + grain * 30, 72 + grain * 22, 48 + grain * 16];
      if (onSheet) {
        const light = 226 - 40 * (a + b) - grain * 5;
        const row = (b + 0.42) * lines * 1.19;
        const written = row % 1 > 0.42 && row % 1 < 0.58 && Math.sin(a * 190 + Math.floor(row) * 7) > -0.2 && a < 0.3 - ((Math.floor(row) * 37) % 20) / 100; // prettier-ignore
        rgb = written ? [38, 52, 96] : [light, light, light - 10];
      }
      const at = (y * width + x) * 4;
      data.set([rgb[0], rgb[1], rgb[2], 255], at);
    }
  const plain = Buffer.from(jpeg.encode({ data, width, height }, 62).data);
  return Buffer.concat([plain.subarray(0, 2), turned(turn), plain.subarray(2)]);
}

/** The EXIF segment with nothing in it but the turn. */
function turned(turn: Turn): Buffer {
  const tiff = Buffer.from('4d4d002a00000008000101120003000000010000000000000000', 'hex');
  tiff.writeUInt16BE(turn, 18);
  const body = Buffer.concat([Buffer.from('Exif\0\0', 'latin1'), tiff]);
  const head = Buffer.from([0xff, 0xe1, 0, 0]);
  head.writeUInt16BE(body.length + 2, 2);
  return Buffer.concat([head, body]);
}
