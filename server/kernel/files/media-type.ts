import { fileTypeFromBuffer } from 'file-type';

/** Bytes from the beginning of a file that its type is told by. */
export const TELLING = 262_144;

/**
 * The media type of a file by the beginning of its content, whatever it is called; null: nothing that is known. Text is
 * known by being valid text: UTF-16 with its mark, UTF-8, or an older encoding without control characters.
 */
export async function mediaTypeOf(beginning: Buffer): Promise<string | null> {
  if (beginning.length === 0) return null;
  try {
    const found = await fileTypeFromBuffer(beginning);
    if (found) return found.mime;
  } catch {
    // Cut off in the middle of an archive's list, or made to mislead: what it begins with has to do.
    if (beginning.subarray(0, 2).toString('latin1') === 'PK') return 'application/zip';
  }
  return isText(beginning) ? 'text/plain' : null;
}

function isText(bytes: Buffer): boolean {
  if ((bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)) return true;
  // Tab, line feed, form feed and carriage return are in texts; no other control character is.
  return !bytes.some((b) => b < 32 && b !== 9 && b !== 10 && b !== 12 && b !== 13);
}
