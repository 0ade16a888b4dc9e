import { mediaTypeOf, TELLING } from './media-type';
import type { FileStore } from './file-store';

/** What a file that is all there turned out to be. */
export interface FileContent {
  sha256: string;
  mediaType: string | null;
}

/** Hashes an upload that is all there and tells its type. Once or several times, the same. */
export async function settleContent(files: FileStore, school: string, upload: string): Promise<FileContent> {
  const sha256 = await files.finish(school, upload);
  const beginning: Buffer[] = [];
  for await (const piece of (await files.read(school, sha256, 0, TELLING))!) beginning.push(piece);
  return { sha256, mediaType: await mediaTypeOf(Buffer.concat(beginning)) };
}
