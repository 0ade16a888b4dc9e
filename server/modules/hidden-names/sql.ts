import type { Db } from '../../kernel/database';

/** Assessments of a book in which it is not said whose work is whose. */
export async function hiddenIn(db: Db, school: string, book: string): Promise<Set<string>> {
  const { rows } = await db.query<{ id: string }>(
    'select id from assessment where school = $1 and book = $2 and names_hidden',
    [school, book],
  );
  return new Set(rows.map((r) => r.id));
}

/** What aliases of a school's students are made with. */
export async function aliasKeyOf(db: Db, school: string): Promise<Buffer> {
  const { rows } = await db.query<{ key: Buffer }>('select alias_key as key from school where id = $1', [school]);
  return rows[0]!.key;
}

/** Everybody who is in a book, or was. */
export async function enrolmentIds(db: Db, school: string, book: string): Promise<string[]> {
  const { rows } = await db.query<{ id: string }>('select id from enrolment where school = $1 and book = $2', [
    school,
    book,
  ]);
  return rows.map((r) => r.id);
}

/** Of which assessment a submission is; null where there is none. */
export async function assessmentOfSubmission(
  db: Db,
  school: string,
  book: string,
  submission: string,
): Promise<string | null> {
  const { rows } = await db.query<{ assessment: string }>(
    'select assessment from submission where school = $1 and book = $2 and id = $3',
    [school, book, submission],
  );
  return rows[0]?.assessment ?? null;
}

/** Who is in a book by the words that name them: for leaving these out of a sentence. */
export async function namesIn(
  db: Db,
  school: string,
  book: string,
): Promise<{ enrolment: string; family: string; given: string }[]> {
  const { rows } = await db.query<{ enrolment: string; family: string; given: string }>(
    `select e.id as enrolment, p.family, p.given from enrolment e join person p on p.school = e.school and p.id = e.person
     where e.school = $1 and e.book = $2`,
    [school, book],
  );
  return rows;
}
