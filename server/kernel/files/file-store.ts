import { createHash } from 'node:crypto';
import type { Readable } from 'node:stream';
import type pg from 'pg';
import { newId, transaction, type Db } from '../database';
import { Refusal } from '../refusal';
import {
  appendChunk,
  bytesOfSchool,
  chunksBetween,
  closeUpload,
  findBlob,
  findUpload,
  insertUpload,
  nameBlob,
  readChunk,
  takeUpload,
  type UploadRow,
} from './sql';

/** Bytes of one piece: what the server holds of a file at once. */
export const CHUNK = 1_048_576;

/** Somebody else goes on with this upload, or it goes on from elsewhere. */
export class UploadMoved extends Error {
  constructor() {
    super('this upload goes on elsewhere');
  }
}

/**
 * Where files lie. This one lies in the database, in pieces: two servers see the same, one back-up holds everything, and
 * what is handed in commits with its receipt. Another may lie elsewhere, as long as `begin` and `finish` take part in the
 * transaction that names the file.
 */
export interface FileStore {
  /** A file of so many bytes is to come; refused where a school with it would have more than it may. */
  begin(db: Db, school: string, person: string, bytes: number, most: number): Promise<string>;
  find(school: string, upload: string): Promise<UploadRow | null>;
  /** Whoever wrote it until now writes it no more. Gives what names the new writer. */
  take(school: string, upload: string): Promise<string>;
  /** Writes what comes, from `at` on, as far as it comes; gives where it goes on. Throws {@link UploadMoved}. */
  append(school: string, upload: string, holder: string, at: number, source: Readable): Promise<number>;
  /** No more is to come than is there: what was announced of it was a bound. Gives how many bytes it has. */
  close(db: Db, school: string, upload: string): Promise<number>;
  /** Hashes what is there whole, and names the file by it. */
  finish(school: string, upload: string): Promise<string>;
  /** Bytes [from, to) of a file; null where there is none of this name. */
  read(school: string, sha256: string, from?: number, to?: number): Promise<AsyncGenerator<Buffer> | null>;
}

/** The file store in PostgreSQL. */
export class DatabaseFileStore implements FileStore {
  constructor(private readonly pool: pg.Pool) {}

  async begin(db: Db, school: string, person: string, bytes: number, most: number): Promise<string> {
    if ((await bytesOfSchool(db, school)) + bytes > most)
      throw new Refusal('bad-request', 'There is no room left for files in this school. Tell the office; nothing was lost.'); // prettier-ignore
    const id = newId('u');
    await insertUpload(db, school, { id, person, blob: newId('f'), bytes });
    return id;
  }

  find(school: string, upload: string): Promise<UploadRow | null> {
    return findUpload(this.pool, school, upload);
  }

  async take(school: string, upload: string): Promise<string> {
    const holder = newId('h');
    await takeUpload(this.pool, school, upload, holder);
    return holder;
  }

  async append(school: string, upload: string, holder: string, at: number, source: Readable): Promise<number> {
    let parts: Buffer[] = [];
    let gathered = 0;
    const write = async (): Promise<void> => {
      if (gathered === 0) return;
      const data = parts.length === 1 ? parts[0]! : Buffer.concat(parts);
      [parts, gathered] = [[], 0];
      if (!(await appendChunk(this.pool, school, { upload, holder, at, data }))) throw new UploadMoved();
      at += data.length;
    };
    try {
      for await (const part of source as AsyncIterable<Buffer>) {
        parts.push(part);
        gathered += part.length;
        if (gathered >= CHUNK) await write();
      }
    } catch (error) {
      if (error instanceof UploadMoved) throw error;
      // The line has dropped: what came until then is kept, and it goes on from there.
      await write();
      throw error;
    }
    await write();
    return at;
  }

  close(db: Db, school: string, upload: string): Promise<number> {
    return closeUpload(db, school, upload);
  }

  async finish(school: string, upload: string): Promise<string> {
    const row = await findUpload(this.pool, school, upload);
    if (!row || row.received !== row.bytes) throw new Error(`the upload ${upload} is not all there`);
    const hash = createHash('sha256');
    for await (const data of this.pieces(school, row.blob, 0, row.bytes)) hash.update(data);
    const sha256 = hash.digest('hex');
    const name = (): Promise<void> => transaction(this.pool, (db) => nameBlob(db, school, row, sha256));
    // The same bytes may be named by somebody else at this very moment: then theirs are there now.
    await name().catch((error: { code?: string }) => (error.code === '23505' ? name() : Promise.reject(error)));
    return sha256;
  }

  async read(school: string, sha256: string, from = 0, to?: number): Promise<AsyncGenerator<Buffer> | null> {
    const blob = await findBlob(this.pool, school, sha256);
    return blob ? this.pieces(school, blob.id, from, Math.min(to ?? blob.bytes, blob.bytes)) : null;
  }

  /** One piece at a time, each on a connection of the moment: a slow reader holds none. */
  private async *pieces(school: string, blob: string, from: number, to: number): AsyncGenerator<Buffer> {
    if (to <= from) return;
    for (const { at } of await chunksBetween(this.pool, school, blob, from, to)) {
      const data = await readChunk(this.pool, school, blob, at);
      yield data.subarray(Math.max(0, from - at), Math.min(data.length, to - at));
    }
  }
}
