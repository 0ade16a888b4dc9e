import type { Rubric } from '@core/rubric/document';
import type { RubricChoices, RubricState } from '@contract/work/marking';
import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Db } from '../../../kernel/database';
import { personName } from '../../accounts';

export interface AssessmentPlace {
  school: string;
  book: string;
  assessment: string;
}

/** All versions of an assessment's rubric, the latest first. */
export async function rubricsOf(db: Db, p: AssessmentPlace): Promise<RubricState[]> {
  const { rows } = await db.query<{ version: number; body: string | null; family: string; given: string; at: string }>(
    `select r.version, r.body, p.family, p.given, r.at from rubric r
     join person p on p.school = r.school and p.id = r.person
     where r.school = $1 and r.book = $2 and r.assessment = $3 order by r.version desc`,
    [p.school, p.book, p.assessment],
  );
  return rows.map((r) => ({
    version: r.version,
    rubric: r.body === null ? null : (JSON.parse(r.body) as Rubric),
    by: personName(r),
    at: r.at,
  }));
}

/** What nothing was marked by yet. */
export const NO_RUBRIC: RubricState = { version: 0, rubric: null, by: '', at: null };

export async function rubricOf(db: Db, p: AssessmentPlace): Promise<RubricState> {
  return (await rubricsOf(db, p))[0] ?? NO_RUBRIC;
}

export async function insertRubric(
  db: BookTransaction,
  p: AssessmentPlace,
  r: { version: number; rubric: Rubric | null; person: string },
): Promise<void> {
  await db.query(
    `insert into rubric (school, book, assessment, version, body, person, at)
     values ($1, $2, $3, $4, $5, $6, school_now($1))`,
    [p.school, p.book, p.assessment, r.version, r.rubric === null ? null : JSON.stringify(r.rubric), r.person],
  );
}

/** Of an assessment that is deleted; false: something of it was given to somebody. */
export async function deleteRubric(db: BookTransaction, p: AssessmentPlace): Promise<boolean> {
  const at = [p.school, p.book, p.assessment];
  const given = await db.query(
    `select 1 from criterion_mark where school = $1 and book = $2 and assessment = $3
       and (points is not null or left_out) limit 1`,
    at,
  );
  if (given.rowCount !== 0) return false;
  for (const table of ['criterion_mark', 'rubric'])
    await db.query(`delete from ${table} where school = $1 and book = $2 and assessment = $3`, at);
  return true;
}

/** The same rubric for a copy of its assessment. */
export async function copyRubric(
  db: BookTransaction,
  from: AssessmentPlace,
  to: AssessmentPlace,
  person: string,
): Promise<void> {
  const { rubric } = await rubricOf(db, from);
  if (rubric !== null) await insertRubric(db, to, { version: 1, rubric, person });
}

/** Assessments with a rubric, in the books that somebody works in, by book and title. */
export async function rubricsWithin(db: Db, school: string, person: string): Promise<RubricChoices> {
  const { rows } = await db.query<RubricChoices[number]>(
    `select a.book, b.title as "bookTitle", a.id as assessment, a.title
     from book_staff w join book b on b.school = w.school and b.id = w.book
       join assessment a on a.school = w.school and a.book = w.book and a.archived_at is null
       join lateral (select r.body from rubric r where r.school = a.school and r.book = a.book and r.assessment = a.id
         order by r.version desc limit 1) r on r.body is not null
     where w.school = $1 and w.person = $2 order by b.title, a.title, a.id`,
    [school, person],
  );
  return rows;
}
