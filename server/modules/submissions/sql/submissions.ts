import type { Submission } from '@contract/work/submissions';
import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Db } from '../../../kernel/database';
import { filesOf, type FileRow } from './files';

/** A submission as it is kept, and its files. */
export interface SubmissionRow {
  id: string;
  assessment: string;
  enrolment: string;
  state: Submission['state'];
  typed: string;
  link: string;
  statement: string | null;
  receipt: string | null;
  attempt: number | null;
  begunAt: string;
  handedInAt: string | null;
  pressedAt: string | null;
  version: number;
  /** Where it went, or for work that was moved here, where it came from. */
  moved: { book: string; submission: string } | null;
  files: FileRow[];
}

const COLUMNS = `id, assessment, enrolment, state, typed, link, statement, receipt, attempt, begun_at as "begunAt",
  handed_in_at as "handedInAt", pressed_at as "pressedAt", version,
  case when moved_book is not null then json_build_object('book', moved_book, 'submission', moved_submission) end as moved`;

async function withFiles(
  db: Db,
  school: string,
  book: string,
  rows: Omit<SubmissionRow, 'files'>[],
): Promise<SubmissionRow[]> {
  const files = await filesOf(db, school, book, rows.map((r) => r.id)); // prettier-ignore
  return rows.map((r) => ({ ...r, files: files.get(r.id) ?? [] }));
}

/** Submissions of an assessment, of one student or of all, the earliest first. */
export async function submissionsOf(
  db: Db,
  school: string,
  book: string,
  assessment: string,
  enrolment: string | null = null,
): Promise<SubmissionRow[]> {
  const { rows } = await db.query<Omit<SubmissionRow, 'files'>>(
    `select ${COLUMNS} from submission where school = $1 and book = $2 and assessment = $3
       and ($4::text is null or enrolment = $4) order by begun_at, id`,
    [school, book, assessment, enrolment],
  );
  return withFiles(db, school, book, rows);
}

/** All that one student began in a book. */
export async function submissionsBy(db: Db, school: string, book: string, enrolment: string): Promise<SubmissionRow[]> {
  const { rows } = await db.query<Omit<SubmissionRow, 'files'>>(
    `select ${COLUMNS} from submission where school = $1 and book = $2 and enrolment = $3 order by begun_at, id`,
    [school, book, enrolment],
  );
  return withFiles(db, school, book, rows);
}

export async function findSubmission(db: Db, school: string, book: string, id: string): Promise<SubmissionRow | null> {
  const { rows } = await db.query<Omit<SubmissionRow, 'files'>>(
    `select ${COLUMNS} from submission where school = $1 and book = $2 and id = $3`,
    [school, book, id],
  );
  return (await withFiles(db, school, book, rows))[0] ?? null;
}

/**
 * The one that a student has begun on an assessment: made where there is none, held until the transaction ends. Null: it
 * was handed in at this moment.
 */
export async function beginSubmission(
  db: Db,
  school: string,
  book: string,
  s: { id: string; assessment: string; enrolment: string },
): Promise<{ id: string; version: number; isNew: boolean } | null> {
  const made = await db.query(
    `insert into submission (school, book, id, assessment, enrolment, state, begun_at)
     values ($1, $2, $3, $4, $5, 'begun', school_now($1)) on conflict do nothing`,
    [school, book, s.id, s.assessment, s.enrolment],
  );
  const { rows } = await db.query<{ id: string; version: number }>(
    `select id, version from submission where school = $1 and book = $2 and assessment = $3 and enrolment = $4
       and state = 'begun' for update`,
    [school, book, s.assessment, s.enrolment],
  );
  return rows[0] ? { ...rows[0], isNew: made.rowCount === 1 } : null;
}

/** What is typed, where it is as it was seen; gives the version after it, null where it is another. */
export async function writeTyped(
  db: Db,
  school: string,
  book: string,
  s: { id: string; version: number; typed: string; link: string },
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update submission set typed = $5, link = $6, version = version + 1
     where school = $1 and book = $2 and id = $3 and version = $4 and state = 'begun'`,
    [school, book, s.id, s.version, s.typed, s.link],
  );
  return rowCount === 1;
}

/** A part was added or taken out. */
export async function bumpVersion(db: Db, school: string, book: string, id: string): Promise<void> {
  await db.query('update submission set version = version + 1 where school = $1 and book = $2 and id = $3', [
    school,
    book,
    id,
  ]);
}

/** Holds a submission until the transaction ends; gives its state and version. */
export async function holdSubmission(
  db: Db,
  school: string,
  book: string,
  id: string,
): Promise<{ state: SubmissionRow['state']; version: number; enrolment: string } | null> {
  const { rows } = await db.query<{ state: SubmissionRow['state']; version: number; enrolment: string }>(
    'select state, version, enrolment from submission where school = $1 and book = $2 and id = $3 for update',
    [school, book, id],
  );
  return rows[0] ?? null;
}

/** False where the receipt's number is another's already: nothing is written then. */
export async function markHandedIn(
  db: BookTransaction,
  school: string,
  book: string,
  s: { id: string; receipt: string; attempt: number; statement: string | null; at: string; pressedAt: string | null },
): Promise<boolean> {
  const { rowCount } = await db.query(
    `update submission set state = 'handed-in', receipt = $4, attempt = $5, statement = $6, handed_in_at = $7,
       pressed_at = $8, version = version + 1
     where school = $1 and book = $2 and id = $3
       and not exists (select 1 from submission x where x.school = $1 and x.receipt = $4)`,
    [school, book, s.id, s.receipt, s.attempt, s.statement, s.at, s.pressedAt],
  );
  return rowCount === 1;
}

export async function markTakenBack(db: BookTransaction, school: string, book: string, id: string): Promise<void> {
  await db.query(
    `update submission set state = 'taken-back', attempt = null, version = version + 1
     where school = $1 and book = $2 and id = $3`,
    [school, book, id],
  );
}
