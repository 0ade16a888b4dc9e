import { numberOrNull, type Db } from '../database';

/** A file on its way, or all there. */
export interface UploadRow {
  id: string;
  person: string;
  blob: string;
  bytes: number;
  received: number;
}

export async function insertUpload(
  db: Db,
  school: string,
  u: { id: string; person: string; blob: string; bytes: number },
): Promise<void> {
  await db.query('insert into blob (school, id, bytes) values ($1, $2, $3)', [school, u.blob, u.bytes]);
  await db.query(
    `insert into upload (school, id, person, blob, bytes, heard_at) values ($1, $2, $3, $4, $5, school_now($1))`,
    [school, u.id, u.person, u.blob, u.bytes],
  );
}

/** Bytes of all files of a school: those that are there, and what is announced of those on their way. */
export async function bytesOfSchool(db: Db, school: string): Promise<number> {
  const { rows } = await db.query<{ bytes: string }>(
    'select coalesce(sum(bytes), 0) as bytes from blob where school = $1',
    [school],
  );
  return Number(rows[0]!.bytes);
}

export async function findUpload(db: Db, school: string, id: string): Promise<UploadRow | null> {
  const { rows } = await db.query<Omit<UploadRow, 'bytes' | 'received'> & { bytes: string; received: string }>(
    'select id, person, blob, bytes, received from upload where school = $1 and id = $2',
    [school, id],
  );
  const [row] = rows;
  return row ? { ...row, bytes: numberOrNull(row.bytes)!, received: numberOrNull(row.received)! } : null;
}

/** From now on `holder` alone writes this upload. */
export async function takeUpload(db: Db, school: string, id: string, holder: string): Promise<void> {
  await db.query('update upload set holder = $3, heard_at = school_now($1) where school = $1 and id = $2', [
    school,
    id,
    holder,
  ]);
}

/** An upload has what has come of it, and its bytes are so many; whoever writes it writes it no more. */
export async function closeUpload(db: Db, school: string, id: string): Promise<number> {
  const { rows } = await db.query<{ received: string }>(
    `with u as (
       update upload set bytes = received, holder = '' where school = $1 and id = $2 returning blob, received
     ), b as (
       update blob set bytes = u.received from u where blob.school = $1 and blob.id = u.blob and blob.sha256 is null
     ) select received from u`,
    [school, id],
  );
  return Number(rows[0]?.received ?? 0);
}

/**
 * Writes the next piece of an upload; false where somebody else writes it by now, or it goes on elsewhere: nothing is
 * written then.
 */
export async function appendChunk(
  db: Db,
  school: string,
  c: { upload: string; holder: string; at: number; data: Buffer },
): Promise<boolean> {
  const { rowCount } = await db.query({
    name: 'append-chunk',
    text: `with u as (
        update upload set received = received + $5, heard_at = school_now($1)
        where school = $1 and id = $2 and holder = $3 and received = $4 and received + $5 <= bytes returning blob
      )
      insert into blob_chunk (school, blob, at, data) select $1, blob, $4, $6 from u`,
    values: [school, c.upload, c.holder, c.at, c.data.length, c.data],
  });
  return rowCount === 1;
}

/** Where pieces of a file begin that hold bytes of [from, to), in order. */
export async function chunksBetween(
  db: Db,
  school: string,
  blob: string,
  from: number,
  to: number,
): Promise<{ at: number }[]> {
  const { rows } = await db.query<{ at: string }>(
    `select at from blob_chunk where school = $1 and blob = $2 and at < $4
       and at >= coalesce((select max(at) from blob_chunk where school = $1 and blob = $2 and at <= $3), 0)
     order by at`,
    [school, blob, from, to],
  );
  return rows.map((r) => ({ at: Number(r.at) }));
}

export async function readChunk(db: Db, school: string, blob: string, at: number): Promise<Buffer> {
  const { rows } = await db.query<{ data: Buffer }>(
    'select data from blob_chunk where school = $1 and blob = $2 and at = $3',
    [school, blob, at],
  );
  if (!rows[0]) throw new Error(`a piece of the file ${blob} is not there`);
  return rows[0].data;
}

/** The file of these bytes, where the school has it. */
export async function findBlob(db: Db, school: string, sha256: string): Promise<{ id: string; bytes: number } | null> {
  const { rows } = await db.query<{ id: string; bytes: string }>(
    'select id, bytes from blob where school = $1 and sha256 = $2',
    [school, sha256],
  );
  return rows[0] ? { id: rows[0].id, bytes: Number(rows[0].bytes) } : null;
}

/** Names a file by its content; where the school has these bytes already the upload is of those, and its own go. */
export async function nameBlob(db: Db, school: string, upload: UploadRow, sha256: string): Promise<void> {
  const { rowCount } = await db.query(
    `update blob set sha256 = $3 where school = $1 and id = $2
       and not exists (select 1 from blob b where b.school = $1 and b.sha256 = $3 and b.id <> $2)`,
    [school, upload.blob, sha256],
  );
  if (rowCount === 1) return;
  await db.query(
    `update upload set blob = (select id from blob where school = $1 and sha256 = $3) where school = $1 and id = $2`,
    [school, upload.id, sha256],
  );
  await db.query('delete from blob where school = $1 and id = $2', [school, upload.blob]);
}

/** Removes bytes that no upload names any more. */
export async function deleteUnusedBlobs(db: Db): Promise<void> {
  await db.query(
    `delete from blob b where not exists (select 1 from upload u where u.school = b.school and u.blob = b.id)`,
  );
}
