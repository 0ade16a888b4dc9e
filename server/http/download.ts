import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import type { Request, Response } from 'express';
import type { FileStore } from '../kernel/files/file-store';
import { Refusal } from '../kernel/refusal';

/** A file of the store, under the name that its student gave it. */
export interface StoredFile {
  name: string;
  bytes: number;
  sha256: string;
}

/**
 * Sends a file to be saved, whole or a range of it. Whatever is in it, it is never a page of this application: not shown,
 * not guessed at, and in a sandbox where a browser shows it all the same.
 */
export async function sendDownload(
  { request, response, school }: { request: Request; response: Response; school: string },
  files: FileStore,
  file: StoredFile,
): Promise<void> {
  response.set({
    'Content-Type': 'application/octet-stream',
    'X-Content-Type-Options': 'nosniff',
    'Content-Security-Policy': "default-src 'none'; sandbox",
    'Cross-Origin-Resource-Policy': 'same-origin',
    'Cache-Control': 'private, no-store',
    'Accept-Ranges': 'bytes',
    'Content-Disposition': dispositionOf(file.name),
    ETag: `"${file.sha256}"`,
  });
  const [from, to] = rangeOf(request, response, file.bytes);
  response.set('Content-Length', String(to - from));
  const pieces = await files.read(school, file.sha256, from, to);
  if (!pieces) throw new Refusal('not-found', 'This file is not here any more.');
  // Whoever stops reading ends it; there is nobody to tell.
  await pipeline(Readable.from(pieces), response).catch(() => response.destroy());
}

/** Sends bytes that were made for this request, to be saved under a name. */
export function sendMade({ response }: { response: Response }, name: string, mediaType: string, bytes: Buffer): void {
  response
    .set({
      'Content-Type': mediaType,
      'X-Content-Type-Options': 'nosniff',
      'Content-Security-Policy': "default-src 'none'; sandbox",
      'Cross-Origin-Resource-Policy': 'same-origin',
      'Cache-Control': 'private, no-store',
      'Content-Disposition': dispositionOf(name),
      'Content-Length': String(bytes.length),
    })
    .end(bytes);
}

/** ASCII for old clients, and the name as it is, in any script (RFC 6266). */
function dispositionOf(name: string): string {
  const plain = name.replace(/[^\x20-\x7e]|["\\%]/g, '_');
  const whole = encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`);
  return `attachment; filename="${plain}"; filename*=UTF-8''${whole}`;
}

/** The bytes that are asked for; the whole where a range says several things or nothing. */
function rangeOf(request: Request, response: Response, bytes: number): [number, number] {
  const found = request.range(bytes);
  if (found === -1) {
    response.set('Content-Range', `bytes */${bytes}`);
    throw new Refusal('bad-range', 'The file has no such part.');
  }
  const [range] = Array.isArray(found) && found.type === 'bytes' && found.length === 1 ? found : [];
  if (!range) return [0, bytes];
  response.status(206).set('Content-Range', `bytes ${range.start}-${range.end}/${bytes}`);
  return [range.start, range.end + 1];
}
