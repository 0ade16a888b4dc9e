import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Db } from '../../../kernel/database';
import type { JobData } from '../../../kernel/jobs';

/** Where an end note stands. */
export interface NotePlace {
  school: string;
  book: string;
  assessment: string;
  enrolment: string;
  work: string;
}

export interface EndNoteRow {
  state: Buffer;
  version: number;
  family: string;
  given: string;
  at: string;
}

const at = (p: NotePlace): string[] => [p.school, p.book, p.assessment, p.enrolment, p.work];

/** Null: nothing was written there. `lock`: until the transaction ends nobody else writes it. */
export async function endNoteOf(db: Db, p: NotePlace, lock = false): Promise<EndNoteRow | null> {
  const { rows } = await db.query<EndNoteRow>(
    `select n.state, n.version, p.family, p.given, n.changed_at as at from end_note n
       join person p on p.school = n.school and p.id = n.person
     where n.school = $1 and n.book = $2 and n.assessment = $3 and n.enrolment = $4 and n.work = $5
     ${lock ? 'for update of n' : ''}`,
    at(p),
  );
  return rows[0] ?? null;
}

/** An end note with who wrote it last, when by the machine's clock. */
export interface NoteOfWork {
  enrolment: string;
  work: string;
  state: Buffer;
  person: string;
  family: string;
  given: string;
  changedAt: string;
}

/** All that were written for one assessment. */
export async function endNotesOf(
  db: Db,
  p: { school: string; book: string; assessment: string },
): Promise<NoteOfWork[]> {
  const { rows } = await db.query<NoteOfWork>(
    `select n.enrolment, n.work, n.state, n.person, n.changed_at as "changedAt", p.family, p.given from end_note n
       join person p on p.school = n.school and p.id = n.person
     where n.school = $1 and n.book = $2 and n.assessment = $3 and n.version > 0`,
    [p.school, p.book, p.assessment],
  );
  return rows;
}

/** A row to be locked, where there is none yet; empty until the transaction writes it. */
export async function prepareEndNote(db: Db, p: NotePlace, person: string, empty: Uint8Array): Promise<void> {
  await db.query(
    `insert into end_note (school, book, assessment, enrolment, work, state, version, person)
     values ($1, $2, $3, $4, $5, $6, 0, $7) on conflict do nothing`,
    [...at(p), Buffer.from(empty), person],
  );
}

/** Writes what was merged, and tells every server that it was. */
export async function writeEndNote(
  db: Db,
  p: NotePlace,
  n: { state: Uint8Array; version: number; person: string },
): Promise<void> {
  await db.query(
    `update end_note set state = $6, version = $7, person = $8, changed_at = now()
     where school = $1 and book = $2 and assessment = $3 and enrolment = $4 and work = $5`,
    [...at(p), Buffer.from(n.state), n.version, n.person],
  );
  await db.query(`select pg_notify('feedback', $1)`, [[...at(p), n.version].join(' ')]);
}

/** Books in which a note or a file came to rest: nobody changed it for so many seconds, and the journal has no line of it yet. */
export async function booksWithRested(
  db: Db,
  seconds: number,
): Promise<(JobData & { book: string; person: string })[]> {
  const { rows } = await db.query<{ school: string; book: string; person: string }>(
    `with restless as (
       select school, book, person from end_note
       where rested < version and changed_at < now() - make_interval(secs => $1)
       union select school, book, writer from feedback_attachment
       where rested < version and sha256 is not null and changed_at < now() - make_interval(secs => $1)
     )
     select r.school, r.book, r.person from restless r
       join book b on b.school = r.school and b.id = r.book and b.archived_at is null`,
    [seconds],
  );
  return rows;
}

/** Those of one person in one book, locked. */
export async function restedNotes(
  db: BookTransaction,
  of: { school: string; book: string; person: string },
  seconds: number,
): Promise<(NotePlace & { state: Buffer; version: number; rested: number })[]> {
  const { rows } = await db.query<NotePlace & { state: Buffer; version: number; rested: number }>(
    `select school, book, assessment, enrolment, work, state, version, rested from end_note
     where school = $1 and book = $2 and person = $3 and rested < version
       and changed_at < now() - make_interval(secs => $4)
     order by assessment, enrolment, work for update limit 500`,
    [of.school, of.book, of.person, seconds],
  );
  return rows;
}

export async function setRested(db: BookTransaction, p: NotePlace, version: number): Promise<void> {
  await db.query(
    `update end_note set rested = $6
     where school = $1 and book = $2 and assessment = $3 and enrolment = $4 and work = $5`,
    [...at(p), version],
  );
}

/** Whether a submission of that student for that assessment is there. */
export async function isSubmissionOf(db: Db, p: NotePlace): Promise<boolean> {
  const { rowCount } = await db.query(
    `select 1 from submission where school = $1 and book = $2 and assessment = $3 and enrolment = $4 and id = $5`,
    at(p),
  );
  return rowCount === 1;
}
