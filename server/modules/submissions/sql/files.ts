import type { Db } from '../../../kernel/database';

/** A file of a submission. `sha256` null: it is not all there, or not hashed yet. */
export interface FileRow {
  id: string;
  name: string;
  bytes: number;
  received: number;
  upload: string;
  sha256: string | null;
  mediaType: string | null;
  /** It is a worksheet of its assessment, byte for byte as that was given out. */
  isBlankWorksheet: boolean;
}

type Raw = Omit<FileRow, 'bytes' | 'received'> & { submission: string; bytes: string; received: string };

/** The files of these submissions, in the order in which they were added. */
export async function filesOf(
  db: Db,
  school: string,
  book: string,
  submissions: string[],
): Promise<Map<string, FileRow[]>> {
  const bySubmission = new Map<string, FileRow[]>();
  if (submissions.length === 0) return bySubmission;
  const { rows } = await db.query<Raw>(
    `select f.submission, f.id, f.name, f.bytes, u.received, f.upload, f.sha256, f.media_type as "mediaType",
       exists (select from handout h where h.school = s.school and h.book = s.book and h.assessment = s.assessment
         and h.worksheet and h.sha256 = f.sha256) as "isBlankWorksheet"
     from submission_file f join upload u on u.school = f.school and u.id = f.upload
       join submission s on s.school = f.school and s.book = f.book and s.id = f.submission
     where f.school = $1 and f.book = $2 and f.submission = any($3) order by f.added_at, f.id`,
    [school, book, submissions],
  );
  for (const { submission, ...r } of rows) {
    const file = { ...r, bytes: Number(r.bytes), received: Number(r.received) };
    bySubmission.set(submission, [...(bySubmission.get(submission) ?? []), file]);
  }
  return bySubmission;
}

export async function insertFile(
  db: Db,
  school: string,
  book: string,
  f: { submission: string; id: string; name: string; bytes: number; upload: string },
): Promise<void> {
  await db.query(
    `insert into submission_file (school, book, submission, id, name, bytes, upload, added_at)
     values ($1, $2, $3, $4, $5, $6, $7, school_now($1))`,
    [school, book, f.submission, f.id, f.name, f.bytes, f.upload],
  );
}

export async function deleteFile(
  db: Db,
  school: string,
  book: string,
  submission: string,
  id: string,
): Promise<boolean> {
  const { rowCount } = await db.query(
    'delete from submission_file where school = $1 and book = $2 and submission = $3 and id = $4',
    [school, book, submission, id],
  );
  return rowCount === 1;
}

/** The submission that an upload belongs to, and whose it is. */
export async function fileOfUpload(
  db: Db,
  school: string,
  upload: string,
): Promise<{ book: string; submission: string; file: string } | null> {
  const { rows } = await db.query<{ book: string; submission: string; file: string }>(
    'select book, submission, id as file from submission_file where school = $1 and upload = $2',
    [school, upload],
  );
  return rows[0] ?? null;
}

/** False where it was named before. */
export async function nameContent(
  db: Db,
  school: string,
  upload: string,
  content: { sha256: string; mediaType: string | null },
): Promise<boolean> {
  const { rowCount } = await db.query(
    'update submission_file set sha256 = $3, media_type = $4 where school = $1 and upload = $2 and sha256 is null',
    [school, upload, content.sha256, content.mediaType],
  );
  return rowCount === 1;
}

/** Files and bytes that a student has in a book, and bytes in the book as a whole. */
export async function roomTaken(
  db: Db,
  school: string,
  book: string,
  enrolment: string,
): Promise<{ files: number; bytes: number; book: number }> {
  const { rows } = await db.query<{ files: number; bytes: string; book: string }>(
    `select count(*) filter (where s.enrolment = $3)::int as files,
       coalesce(sum(f.bytes) filter (where s.enrolment = $3), 0) as bytes, coalesce(sum(f.bytes), 0) as book
     from submission_file f join submission s on s.school = f.school and s.book = f.book and s.id = f.submission
     where f.school = $1 and f.book = $2`,
    [school, book, enrolment],
  );
  const r = rows[0]!;
  return { files: r.files, bytes: Number(r.bytes), book: Number(r.book) };
}

/** Takes files out of what was begun that have not been heard of for so many days and are not all there. */
export async function deleteBrokenFiles(db: Db, days: number): Promise<void> {
  await db.query(
    `with gone as (
       delete from submission_file f using upload u, submission s
       where u.school = f.school and u.id = f.upload and s.school = f.school and s.book = f.book and s.id = f.submission
         and s.state = 'begun' and f.sha256 is null and u.received < u.bytes
         and u.heard_at < school_now(f.school) - make_interval(days => $1)
       returning f.school, f.book, f.submission)
     update submission s set version = version + 1 from (select distinct * from gone) g
     where s.school = g.school and s.book = g.book and s.id = g.submission`,
    [days],
  );
}

/** Removes uploads that no file names any more. What was heard of in the last days stays: somebody may be about to. */
export async function deleteUnusedUploads(db: Db, days: number): Promise<void> {
  await db.query(
    `delete from upload u where u.heard_at < school_now(u.school) - make_interval(days => $1)
       and not exists (select 1 from submission_file f where f.school = u.school and f.upload = u.id)
       and not exists (select 1 from handout h where h.school = u.school and h.upload = u.id)
       and not exists (select 1 from feedback_attachment b where b.school = u.school and b.upload = u.id)`,
    [days],
  );
}
