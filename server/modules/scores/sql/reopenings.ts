import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Db } from '../../../kernel/database';

/** An assessment given back to a student. `same`: what comes then stands in place of the last attempt. */
export interface ReopeningRow {
  enrolment: string;
  at: string;
  until: string;
  same: boolean;
  comment: string;
}

export async function insertReopenings(
  db: BookTransaction,
  who: { school: string; book: string; person: string },
  reopenings: readonly { assessment: string; enrolment: string; until: string }[],
  how: { same: boolean; comment: string },
): Promise<void> {
  await db.query(
    `insert into reopening (school, book, assessment, enrolment, at, until, same, comment, person)
     select $1, $2, n.assessment, n.enrolment, school_now($1), n.until, $7, $8, $3
     from unnest($4::text[], $5::text[], $6::timestamptz[]) as n (assessment, enrolment, until)`,
    [
      who.school,
      who.book,
      who.person,
      reopenings.map((r) => r.assessment),
      reopenings.map((r) => r.enrolment),
      reopenings.map((r) => r.until),
      how.same,
      how.comment,
    ],
  );
}

/** How an assessment was given back to students, the first at the top; of one of them where that is said. */
export async function reopeningsOf(
  db: Db,
  school: string,
  book: string,
  assessment: string,
  enrolment: string | null = null,
): Promise<ReopeningRow[]> {
  const { rows } = await db.query<ReopeningRow>(
    `select enrolment, at, until, same, comment from reopening
     where school = $1 and book = $2 and assessment = $3 and ($4::text is null or enrolment = $4) order by number`,
    [school, book, assessment, enrolment],
  );
  return rows;
}

/** The same of all assessments of one student. */
export async function reopeningsBy(
  db: Db,
  school: string,
  book: string,
  enrolment: string,
): Promise<(ReopeningRow & { assessment: string })[]> {
  const { rows } = await db.query<ReopeningRow & { assessment: string }>(
    `select assessment, enrolment, at, until, same, comment from reopening
     where school = $1 and book = $2 and enrolment = $3 order by number`,
    [school, book, enrolment],
  );
  return rows;
}
