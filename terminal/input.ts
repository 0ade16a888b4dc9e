import { createReadStream, existsSync, statSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Readable } from 'node:stream';
import { LARGEST, readBook, TOO_LARGE, type Checked } from '@core/book/checks/check';

const problem = (says: string): Checked => ({ ok: false, problems: [{ at: '', says }], more: 0 });

/** The text of a document's bytes; a byte-order mark is passed over. Null where they are no UTF-8. */
function textOf(bytes: Buffer): string | null {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return null;
  }
}

export function readBytes(bytes: Buffer): Checked {
  if (bytes.length > LARGEST) return problem(TOO_LARGE);
  const text = textOf(bytes);
  return text === null ? problem('This is not UTF-8, and so not JSON.') : readBook(text);
}

/** npm runs the command in the project's folder: a file is then looked for where the person is, too. */
function pathOf(file: string): string {
  const from = process.env['INIT_CWD'];
  if (existsSync(file) || from === undefined) return file;
  const there = resolve(from, file);
  return existsSync(there) ? there : file;
}

export const open = (file: string): Readable => (file === '-' ? process.stdin : createReadStream(pathOf(file)));

/** Reads and checks one document from a file, or `-` for standard input; never more than the largest of it. */
export async function readDocument(file: string): Promise<Checked> {
  try {
    if (file !== '-' && statSync(pathOf(file)).size > LARGEST) return problem(TOO_LARGE);
    const chunks: Buffer[] = [];
    let size = 0;
    for await (const chunk of open(file) as AsyncIterable<Buffer>) {
      size += chunk.length;
      if (size > LARGEST) return problem(TOO_LARGE);
      chunks.push(chunk);
    }
    return readBytes(Buffer.concat(chunks));
  } catch (error) {
    return problem(`The file could not be read: ${(error as Error).message}`);
  }
}

/** The lines of a stream as bytes; null for one that is larger than a document may be, which is passed over unread. */
export async function* linesOf(stream: AsyncIterable<Buffer>): AsyncGenerator<Buffer | null> {
  let parts: Buffer[] = [];
  let size = 0;
  const take = (): Buffer | null => {
    const line = size > LARGEST ? null : Buffer.concat(parts);
    parts = [];
    size = 0;
    return line;
  };
  const add = (part: Buffer): void => {
    size += part.length;
    if (size <= LARGEST) parts.push(part);
    else parts = [];
  };
  for await (const chunk of stream) {
    let from = 0;
    for (let end = chunk.indexOf(10); end >= 0; end = chunk.indexOf(10, from)) {
      add(chunk.subarray(from, end));
      yield take();
      from = end + 1;
    }
    add(chunk.subarray(from));
  }
  if (size > 0) yield take();
}
