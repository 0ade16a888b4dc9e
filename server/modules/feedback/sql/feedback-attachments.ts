import type { FeedbackPurpose } from '@contract/work/feedback';
import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Db } from '../../../kernel/database';
import type { NotePlace } from './end-notes';

/** A file of staff beside a piece of work. */
export interface FeedbackAttachmentRow {
  id: string;
  purpose: FeedbackPurpose;
  enrolment: string | null;
  work: string | null;
  name: string;
  bytes: number;
  received: number;
  upload: string;
  sha256: string | null;
  mediaType: string | null;
  seconds: number | null;
  waveform: number[];
  removed: boolean;
  version: number;
  person: string;
  family: string;
  given: string;
  at: string;
}

type Raw = Omit<FeedbackAttachmentRow, 'bytes' | 'received' | 'seconds'> & {
  bytes: string;
  received: string;
  seconds: string | null;
};

const ROWS = `select f.id, f.purpose, f.enrolment, f.work, f.name, u.bytes, u.received, f.upload, f.sha256,
    f.media_type as "mediaType", f.seconds, f.waveform, f.removed, f.version, f.person, p.family, p.given, f.added_at as at
  from feedback_attachment f join upload u on u.school = f.school and u.id = f.upload
    join person p on p.school = f.school and p.id = f.person`;

const toRow = (r: Raw): FeedbackAttachmentRow => ({
  ...{ ...r, bytes: Number(r.bytes), received: Number(r.received) },
  seconds: r.seconds === null ? null : Number(r.seconds),
});

/** Those of one piece of work and those for everybody, in the order in which they were added. */
export async function feedbackAttachmentsOf(db: Db, p: NotePlace): Promise<FeedbackAttachmentRow[]> {
  const { rows } = await db.query<Raw>(
    `${ROWS} where f.school = $1 and f.book = $2 and f.assessment = $3
       and (f.enrolment is null or (f.enrolment = $4 and f.work = $5))
     order by f.enrolment is null, f.added_at, f.id`,
    [p.school, p.book, p.assessment, p.enrolment, p.work],
  );
  return rows.map(toRow);
}

/** Those of an assessment that are all here and on it, without what is for staff alone, in the order in which they were added. */
export async function attachmentsToGive(
  db: Db,
  p: { school: string; book: string; assessment: string },
): Promise<FeedbackAttachmentRow[]> {
  const { rows } = await db.query<Raw>(
    `${ROWS} where f.school = $1 and f.book = $2 and f.assessment = $3 and f.purpose <> 'staff' and not f.removed
       and f.sha256 is not null
     order by f.added_at, f.id`,
    [p.school, p.book, p.assessment],
  );
  return rows.map(toRow);
}

/** One of them by its id; until the transaction ends nobody else changes it. */
export async function holdFeedbackAttachment(db: Db, p: NotePlace, id: string): Promise<FeedbackAttachmentRow | null> {
  const { rows } = await db.query<Raw>(
    `${ROWS} where f.school = $1 and f.book = $2 and f.assessment = $3
       and (f.enrolment is null or (f.enrolment = $4 and f.work = $5)) and f.id = $6 for update of f`,
    [p.school, p.book, p.assessment, p.enrolment, p.work, id],
  );
  return rows[0] ? toRow(rows[0]) : null;
}

/** False where another file of the assessment has this id. */
export async function insertFeedbackAttachment(
  db: Db,
  p: NotePlace,
  f: { id: string; purpose: FeedbackPurpose; everybody: boolean; name: string; upload: string; person: string },
): Promise<boolean> {
  const { rowCount } = await db.query(
    `insert into feedback_attachment
       (school, book, assessment, id, purpose, enrolment, work, name, upload, person, writer, added_at)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $10, school_now($1)) on conflict do nothing`,
    [
      ...[p.school, p.book, p.assessment, f.id, f.purpose],
      ...[f.everybody ? null : p.enrolment, f.everybody ? null : p.work, f.name, f.upload, f.person],
    ],
  );
  return rowCount === 1;
}

/** Names what is in a file once all of it is here; false where the upload is of no such file. */
export async function nameFeedbackAttachment(
  db: Db,
  school: string,
  upload: string,
  content: { sha256: string; mediaType: string | null },
): Promise<boolean> {
  const { rows } = await db.query<{ book: string; assessment: string; enrolment: string | null; work: string | null }>(
    `update feedback_attachment set sha256 = $3, media_type = $4, changed_at = now()
     where school = $1 and upload = $2 and sha256 is null returning book, assessment, enrolment, work`,
    [school, upload, content.sha256, content.mediaType],
  );
  for (const r of rows) await tellFeedbackAttachment(db, { school, ...r });
  return rows.length > 0;
}

export async function measureRecording(
  db: Db,
  school: string,
  upload: string,
  of: { seconds: number | null; waveform: readonly number[] },
): Promise<void> {
  await db.query('update feedback_attachment set seconds = $3, waveform = $4 where school = $1 and upload = $2', [
    ...[school, upload, of.seconds],
    of.waveform,
  ]);
}

export async function setFeedbackAttachmentRemoved(
  db: Db,
  p: NotePlace,
  f: { id: string; removed: boolean; version: number; person: string },
): Promise<void> {
  await db.query(
    `update feedback_attachment set removed = $5, version = $6, writer = $7, changed_at = now()
     where school = $1 and book = $2 and assessment = $3 and id = $4`,
    [p.school, p.book, p.assessment, f.id, f.removed, f.version, f.person],
  );
}

/** What stands beside a piece of work stands beside another from now on: its end note, recordings and files. */
export async function moveFeedback(db: BookTransaction, from: NotePlace, to: Omit<NotePlace, 'school'>): Promise<void> {
  for (const table of ['end_note', 'feedback_attachment'])
    await db.query(
      `update ${table} set book = $6, assessment = $7, enrolment = $8, work = $9, changed_at = now()
       where school = $1 and book = $2 and assessment = $3 and enrolment = $4 and work = $5`,
      [...[from.school, from.book, from.assessment, from.enrolment, from.work], ...[to.book, to.assessment, to.enrolment, to.work]], // prettier-ignore
    );
  await tellFeedbackAttachment(db, from);
  await tellFeedbackAttachment(db, { school: from.school, ...to });
}

/** Says that files beside a piece of work changed, or those for everybody: here and to every server. */
export async function tellFeedbackAttachment(
  db: Db,
  p: { school: string; book: string; assessment: string; enrolment: string | null; work: string | null },
): Promise<void> {
  await db.query(`select pg_notify('feedback', $1)`, [
    [p.school, p.book, p.assessment, p.enrolment ?? '*', p.work ?? '*'].join(' '),
  ]);
}

export interface RestedFile {
  assessment: string;
  enrolment: string | null;
  id: string;
  purpose: FeedbackPurpose;
  sha256: string;
  removed: boolean;
  version: number;
  rested: number;
}

/** Files of one person in one book that came to rest, locked; from now on they have their line. */
export async function restFiles(
  db: BookTransaction,
  of: { school: string; book: string; person: string },
  seconds: number,
): Promise<RestedFile[]> {
  const { rows } = await db.query<RestedFile>(
    `with due as (
       select school, book, assessment, id, rested from feedback_attachment
       where school = $1 and book = $2 and writer = $3 and rested < version and sha256 is not null
         and changed_at < now() - make_interval(secs => $4)
       order by assessment, id for update limit 500
     )
     update feedback_attachment f set rested = f.version from due
     where f.school = due.school and f.book = due.book and f.assessment = due.assessment and f.id = due.id
     returning f.assessment, f.enrolment, f.id, f.purpose, f.sha256, f.removed, f.version, due.rested`,
    [of.school, of.book, of.person, seconds],
  );
  return rows.toSorted((a, b) => (a.assessment + a.id < b.assessment + b.id ? -1 : 1));
}

/** Lets go of what broke off and was not heard of for so many days, and was taken off or has nothing in it. */
export async function deleteBrokenFeedbackAttachments(db: Db, days: number): Promise<void> {
  await db.query(
    `delete from feedback_attachment f using upload u
     where u.school = f.school and u.id = f.upload and f.sha256 is null
       and u.heard_at < school_now(f.school) - make_interval(days => $1)
       and (f.removed or u.received = 0 or f.purpose not in ('voice', 'camera'))`,
    [days],
  );
}
