import { unzipSync } from 'fflate';

/** Pieces, bytes unpacked and bytes unpacked for one packed that an archive may have. */
const MOST_PIECES = 5_000;
const MOST_BYTES = 150_000_000;
const MOST_RATIO = 400;
/** Below this no ratio is looked at: a short text of one letter packs well. */
const SMALL = 2_000_000;

/** What an archive of a document must not be. */
export class HostileArchive extends Error {}

/** Counts what is met in an archive; refuses what would not fit, before anything of it is unpacked. */
function counter(): (piece: { size: number; originalSize: number }, isWanted: boolean) => void {
  let [pieces, whole] = [0, 0];
  return ({ size, originalSize }, isWanted) => {
    if (++pieces > MOST_PIECES) throw new HostileArchive('It has more pieces than a document has.');
    if (!isWanted) return;
    whole += originalSize;
    if (whole > MOST_BYTES || (originalSize > SMALL && originalSize > MOST_RATIO * Math.max(1, size)))
      throw new HostileArchive('Unpacked it would be larger than can be shown.');
  };
}

/** The wanted pieces of an archive. */
export function unpack(bytes: Uint8Array, wants: (name: string) => boolean): Map<string, Uint8Array<ArrayBuffer>> {
  const count = counter();
  const found = unzipSync(bytes, {
    filter: (piece) => {
      const isWanted = wants(piece.name);
      count(piece, isWanted);
      return isWanted;
    },
  });
  return new Map(Object.entries(found) as [string, Uint8Array<ArrayBuffer>][]);
}

/** Refuses an archive that would not fit unpacked, without unpacking it: for whoever unpacks it by other means. */
export function lookThrough(bytes: Uint8Array): void {
  const count = counter();
  unzipSync(bytes, {
    filter: (piece) => {
      count(piece, true);
      return false;
    },
  });
}

/** The piece of that name as text; '' where there is none. */
export const textOf = (pieces: ReadonlyMap<string, Uint8Array>, name: string): string =>
  pieces.has(name) ? new TextDecoder().decode(pieces.get(name)) : '';
