import type { BookTransaction } from '../../../kernel/book-transaction';
import { type Db } from '../../../kernel/database';
import { type AssessmentRow } from '../../books';

export async function insertAssessment(
  db: BookTransaction,
  school: string,
  book: string,
  a: Omit<AssessmentRow, 'version' | 'archived'>,
): Promise<void> {
  await db.query(
    `insert into assessment (school, book, id, title, category, position, points, due, closes, takes_work, shown, more, work)
     select $1, $2, $3, $4, $5, coalesce(max(position), 0) + 1, $6, $7, $8, $9, $10, $11, $12 from assessment where school = $1 and book = $2`,
    [
      school,
      book,
      a.id,
      a.title,
      a.category,
      a.points,
      a.due,
      a.closes,
      a.takesWork,
      a.shown,
      JSON.stringify(a.more),
      JSON.stringify(a.work),
    ],
  );
}

/** Writes an assessment whole, but for its place in the order. */
export async function updateAssessment(
  db: BookTransaction,
  school: string,
  book: string,
  a: AssessmentRow,
): Promise<void> {
  await db.query(
    `update assessment set title = $4, category = $5, points = $6, due = $7, closes = $8, takes_work = $9, shown = $10,
       more = $11, version = $12, work = $14,
       archived_at = case when $13::boolean then coalesce(archived_at, school_now($1)) end
     where school = $1 and book = $2 and id = $3`,
    [
      school,
      book,
      a.id,
      a.title,
      a.category,
      a.points,
      a.due,
      a.closes,
      a.takesWork,
      a.shown,
      JSON.stringify(a.more),
      a.version,
      a.archived,
      JSON.stringify(a.work),
    ],
  );
}

/** Puts the book's assessments in this order. */
export async function updateOrder(db: BookTransaction, school: string, book: string, order: string[]): Promise<void> {
  await db.query(
    `update assessment a set position = n.at from unnest($3::text[]) with ordinality as n (id, at)
     where a.school = $1 and a.book = $2 and a.id = n.id`,
    [school, book, order],
  );
}

/** Takes an assessment off the book for good; false where somebody has or had something on it. */
export async function deleteUnused(db: BookTransaction, school: string, book: string, id: string): Promise<boolean> {
  const used = await db.query(
    `select 1 from entry where school = $1 and book = $2 and assessment = $3
     union all select 1 from submission where school = $1 and book = $2 and assessment = $3
     union all select 1 from message where school = $1 and book = $2 and assessment = $3
     union all select 1 from end_note where school = $1 and book = $2 and assessment = $3
     union all select 1 from feedback_attachment where school = $1 and book = $2 and assessment = $3
     union all select 1 from reopening where school = $1 and book = $2 and assessment = $3
     union all select 1 from released_part where school = $1 and book = $2 and assessment = $3
     union all select 1 from released_entry where school = $1 and book = $2 and assessment = $3 limit 1`,
    [school, book, id],
  );
  if (used.rowCount !== 0) return false;
  await db.query('delete from assessment where school = $1 and book = $2 and id = $3', [school, book, id]);
  return true;
}

/** Students read something of it: a score, a rubric or feedback. */
export async function isAnythingReleased(db: Db, school: string, book: string, assessment: string): Promise<boolean> {
  const { rowCount } = await db.query(
    `select 1 from released_entry where school = $1 and book = $2 and assessment = $3 and withdrawn_at is null
     union all select 1 from released_part where school = $1 and book = $2 and assessment = $3 and withdrawn_at is null
     limit 1`,
    [school, book, assessment],
  );
  return rowCount !== 0;
}

/** By assessment: cells that hold a score, and cells that students see. */
export async function usesOf(
  db: Db,
  school: string,
  book: string,
): Promise<Map<string, { scored: number; released: number }>> {
  const { rows } = await db.query<{ id: string; scored: number; released: number }>(
    `select a.id,
       (select count(distinct e.enrolment)::int from entry e
         left join attempt t on t.school = e.school and t.book = e.book and t.assessment = e.assessment and t.enrolment = e.enrolment
         where e.school = a.school and e.book = a.book and e.assessment = a.id
           and (e.set_points is not null or t.score is not null or t.mark is not null)) as scored,
       (select count(*)::int from released_entry r where r.school = a.school and r.book = a.book and r.assessment = a.id
         and r.withdrawn_at is null) as released
     from assessment a where a.school = $1 and a.book = $2`,
    [school, book],
  );
  return new Map(rows.map(({ id, ...uses }) => [id, uses]));
}
