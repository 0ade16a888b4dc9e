import type { RichText } from '@core/text/rich-text';
import type { Handout } from '@contract/work/instructions';
import type { BookTransaction } from '../../kernel/book-transaction';
import type { Db } from '../../kernel/database';

export interface AssessmentPlace {
  school: string;
  book: string;
  assessment: string;
}

export interface InstructionRow {
  version: number;
  body: RichText | null;
}

/** The latest version; version 0 where none was written. */
export async function instructionOf(db: Db, p: AssessmentPlace): Promise<InstructionRow> {
  const { rows } = await db.query<{ version: number; body: string | null }>(
    `select version, body from instruction where school = $1 and book = $2 and assessment = $3
     order by version desc limit 1`,
    [p.school, p.book, p.assessment],
  );
  const [row] = rows;
  return row ? { version: row.version, body: row.body === null ? null : (JSON.parse(row.body) as RichText) } : { version: 0, body: null }; // prettier-ignore
}

export async function insertInstruction(
  db: BookTransaction,
  p: AssessmentPlace,
  i: InstructionRow & { person: string },
): Promise<void> {
  await db.query(
    `insert into instruction (school, book, assessment, version, body, person, at)
     values ($1, $2, $3, $4, $5, $6, school_now($1))`,
    [p.school, p.book, p.assessment, i.version, i.body === null ? null : JSON.stringify(i.body), i.person],
  );
}

/** Files that go with an assessment, in the order in which they were added. */
export async function handoutsOf(db: Db, p: AssessmentPlace): Promise<Handout[]> {
  const { rows } = await db.query<Omit<Handout, 'bytes' | 'received'> & { bytes: string; received: string }>(
    `select h.id, h.name, h.bytes, u.received, h.upload, h.sha256, h.media_type as "mediaType", h.worksheet
     from handout h join upload u on u.school = h.school and u.id = h.upload
     where h.school = $1 and h.book = $2 and h.assessment = $3 order by h.added_at, h.id`,
    [p.school, p.book, p.assessment],
  );
  return rows.map((r) => ({ ...r, bytes: Number(r.bytes), received: Number(r.received) }));
}

export async function insertHandout(
  db: BookTransaction,
  p: AssessmentPlace,
  h: { id: string; name: string; bytes: number; upload: string; worksheet: boolean },
): Promise<void> {
  await db.query(
    `insert into handout (school, book, assessment, id, name, bytes, upload, worksheet, added_at)
     values ($1, $2, $3, $4, $5, $6, $7, $8, school_now($1))`,
    [p.school, p.book, p.assessment, h.id, h.name, h.bytes, h.upload, h.worksheet],
  );
}

export async function deleteHandout(db: BookTransaction, p: AssessmentPlace, id: string): Promise<boolean> {
  const { rowCount } = await db.query(
    'delete from handout where school = $1 and book = $2 and assessment = $3 and id = $4',
    [p.school, p.book, p.assessment, id],
  );
  return rowCount === 1;
}

/** Names what is in a file once all of it is here; false where the upload is of no such file. */
export async function nameHandout(
  db: Db,
  school: string,
  upload: string,
  content: { sha256: string; mediaType: string | null },
): Promise<boolean> {
  const { rowCount } = await db.query(
    'update handout set sha256 = $3, media_type = $4 where school = $1 and upload = $2 and sha256 is null',
    [school, upload, content.sha256, content.mediaType],
  );
  return rowCount === 1;
}

/** The words and the files of an assessment once more, for a copy of it; the bytes stand once. */
export async function copyInstructions(
  db: BookTransaction,
  from: AssessmentPlace,
  to: AssessmentPlace,
  person: string,
): Promise<void> {
  const { body } = await instructionOf(db, from);
  if (body !== null) await insertInstruction(db, to, { version: 1, body, person });
  await db.query(
    `insert into handout (school, book, assessment, id, name, bytes, upload, sha256, media_type, worksheet, added_at)
     select school, $4, $5, id, name, bytes, upload, sha256, media_type, worksheet, added_at from handout
     where school = $1 and book = $2 and assessment = $3 and sha256 is not null`,
    [from.school, from.book, from.assessment, to.book, to.assessment],
  );
}

/** Of an assessment that is deleted: nobody has anything in it. */
export async function deleteInstructions(db: BookTransaction, p: AssessmentPlace): Promise<void> {
  for (const table of ['handout', 'instruction'])
    await db.query(`delete from ${table} where school = $1 and book = $2 and assessment = $3`, [
      p.school,
      p.book,
      p.assessment,
    ]);
}
