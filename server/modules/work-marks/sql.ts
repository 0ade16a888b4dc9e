import type { BookTransaction } from '../../kernel/book-transaction';
import type { Db } from '../../kernel/database';
import type { JobData } from '../../kernel/jobs';

/** One piece of work that is marked on. */
export interface MarkedPlace {
  school: string;
  book: string;
  submission: string;
}

/** What was handed in, as far as marks on it need to know it. */
export interface MarkedSubmission {
  assessment: string;
  enrolment: string;
  /** Its files that are all there, and "typed" where something was. */
  leaves: string[];
}

export interface MarkRow {
  id: string;
  version: number;
  leaf: string;
  annotation: string;
  removed: boolean;
  person: string;
  family: string;
  given: string;
  madeAt: string;
  changedAt: string;
}

const at = (p: MarkedPlace): string[] => [p.school, p.book, p.submission];

export async function markedSubmission(db: Db, p: MarkedPlace): Promise<MarkedSubmission | null> {
  const { rows } = await db.query<MarkedSubmission>(
    `select s.assessment, s.enrolment,
       array(select f.id from submission_file f where f.school = s.school and f.book = s.book and f.submission = s.id
               and f.sha256 is not null order by f.id)
         || case when s.typed = '' then '{}'::text[] else '{typed}' end as leaves
     from submission s where s.school = $1 and s.book = $2 and s.id = $3`,
    at(p),
  );
  return rows[0] ?? null;
}

const COLUMNS = `m.id, m.version, m.leaf, m.annotation, m.removed, m.person, p.family, p.given, m.made_at as "madeAt",
    m.changed_at as "changedAt"`;
const ROWS = `select ${COLUMNS} from work_mark m join person p on p.school = m.school and p.id = m.person`;

/** The oldest first; those that were taken off too. */
export async function marksOn(db: Db, p: MarkedPlace): Promise<MarkRow[]> {
  const { rows } = await db.query<MarkRow>(
    `${ROWS} where m.school = $1 and m.book = $2 and m.submission = $3 order by m.made_at, m.id`,
    at(p),
  );
  return rows;
}

export async function markOn(db: Db, p: MarkedPlace, id: string): Promise<MarkRow | null> {
  const { rows } = await db.query<MarkRow>(
    `${ROWS} where m.school = $1 and m.book = $2 and m.submission = $3 and m.id = $4`,
    [...at(p), id],
  );
  return rows[0] ?? null;
}

/** Marks that are on the work for one assessment. */
export async function marksFor(
  db: Db,
  p: { school: string; book: string; assessment: string },
): Promise<(MarkRow & { enrolment: string; submission: string })[]> {
  const { rows } = await db.query<MarkRow & { enrolment: string; submission: string }>(
    `select s.enrolment, s.id as submission, ${COLUMNS} from work_mark m
       join person p on p.school = m.school and p.id = m.person
       join submission s on s.school = m.school and s.book = m.book and s.id = m.submission
     where m.school = $1 and m.book = $2 and s.assessment = $3 and not m.removed order by m.made_at, m.id`,
    [p.school, p.book, p.assessment],
  );
  return rows;
}

/** Until the transaction ends nobody else changes marks on this work. Gives its version. */
export async function holdMarkedWork(db: Db, p: MarkedPlace, person: string): Promise<number> {
  await db.query(
    `insert into marked_work (school, book, submission, version, person) values ($1, $2, $3, 0, $4) on conflict do nothing`,
    [...at(p), person],
  );
  const { rows } = await db.query<{ version: number }>(
    'select version from marked_work where school = $1 and book = $2 and submission = $3 for update',
    at(p),
  );
  return rows[0]!.version;
}

export async function writeMark(
  db: Db,
  p: MarkedPlace,
  m: { id: string; leaf: string; annotation: string; removed: boolean; version: number; writer: string },
): Promise<void> {
  await db.query(
    `insert into work_mark (school, book, submission, id, leaf, annotation, removed, version, person, writer, made_at, changed_at)
     values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $9, school_now($1), school_now($1))
     on conflict (school, book, submission, id) do update set annotation = $6, removed = $7, version = $8, writer = $9,
       changed_at = school_now($1)`,
    [...at(p), m.id, m.leaf, m.annotation, m.removed, m.version, m.writer],
  );
}

/** A mark of work that was moved here, by whoever made it. */
export async function insertMovedMark(
  db: Db,
  p: MarkedPlace,
  m: { id: string; leaf: string; annotation: string; person: string; madeAt: string },
): Promise<void> {
  await db.query(
    `insert into work_mark (school, book, submission, id, leaf, annotation, version, person, writer, made_at, changed_at)
     values ($1, $2, $3, $4, $5, $6, 1, $7, $7, $8, school_now($1))`,
    [...at(p), m.id, m.leaf, m.annotation, m.person, m.madeAt],
  );
}

/** Says that marks on this work were changed, here and to every server. */
export async function tellMarked(
  db: Db,
  p: MarkedPlace,
  of: { assessment: string; enrolment: string; version: number; person: string },
): Promise<void> {
  await db.query(
    `update marked_work set version = $4, person = $5, changed_at = now()
     where school = $1 and book = $2 and submission = $3`,
    [...at(p), of.version, of.person],
  );
  const words = [p.school, p.book, of.assessment, of.enrolment, p.submission].join(' ');
  await db.query(`select pg_notify('marks', $1)`, [words]);
}

/** Books with marks that came to rest: nobody changed them for so many seconds, and the journal has no line of it yet. */
export async function booksWithRestedMarks(
  db: Db,
  seconds: number,
): Promise<(JobData & { book: string; person: string })[]> {
  const { rows } = await db.query<{ school: string; book: string; person: string }>(
    `select distinct w.school, w.book, w.person from marked_work w
       join book b on b.school = w.school and b.id = w.book and b.archived_at is null
     where w.rested < w.version and w.changed_at < now() - make_interval(secs => $1)`,
    [seconds],
  );
  return rows;
}

export interface RestedWork extends MarkedPlace {
  assessment: string;
  enrolment: string;
  version: number;
  rested: number;
}

/** Those of one person in one book, locked. */
export async function restedWorks(
  db: BookTransaction,
  of: { school: string; book: string; person: string },
  seconds: number,
): Promise<RestedWork[]> {
  const { rows } = await db.query<RestedWork>(
    `select w.school, w.book, w.submission, s.assessment, s.enrolment, w.version, w.rested from marked_work w
       join submission s on s.school = w.school and s.book = w.book and s.id = w.submission
     where w.school = $1 and w.book = $2 and w.person = $3 and w.rested < w.version
       and w.changed_at < now() - make_interval(secs => $4)
     order by w.submission for update of w limit 500`,
    [of.school, of.book, of.person, seconds],
  );
  return rows;
}

export async function setMarksRested(db: BookTransaction, p: MarkedPlace, version: number): Promise<void> {
  await db.query('update marked_work set rested = $4 where school = $1 and book = $2 and submission = $3', [
    ...at(p),
    version,
  ]);
}
