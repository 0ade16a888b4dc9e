import type { Student } from '@core/book/document';
import { newId, type Db } from './database';

export interface StudentRow {
  id: string;
  person: string;
  family: string;
  given: string;
  number: string;
  mail: string;
  section: string | null;
  extraTimeHours: number;
  left: boolean;
}

/** The students of a book by name; those who left are listed where `all`. */
export async function studentsOf(db: Db, school: string, book: string, all = false): Promise<StudentRow[]> {
  const { rows } = await db.query<Omit<StudentRow, 'extraTimeHours'> & { extraTimeHours: string }>(
    `select e.id, e.person, p.family, p.given, p.number, p.mail, e.section, e.extra_time_hours as "extraTimeHours",
       e.left_at is not null as left
     from enrolment e join person p on p.school = e.school and p.id = e.person
     where e.school = $1 and e.book = $2 and ($3 or e.left_at is null)
     order by lower(p.family), lower(p.given), e.id`,
    [school, book, all],
  );
  return rows.map((r) => ({ ...r, extraTimeHours: Number(r.extraTimeHours) }));
}

export const toDocumentStudent = (s: Pick<StudentRow, 'id' | 'section' | 'extraTimeHours'>): Student => ({
  id: s.id,
  ...(s.section === null ? {} : { section: s.section }),
  ...(s.extraTimeHours === 0 ? {} : { extraTimeHours: s.extraTimeHours }),
});

/** Those of these students that are in the book now. */
export async function enrolledAmong(db: Db, school: string, book: string, ids: string[]): Promise<Set<string>> {
  const { rows } = await db.query<{ id: string }>(
    'select id from enrolment where school = $1 and book = $2 and id = any($3) and left_at is null',
    [school, book, ids],
  );
  return new Set(rows.map((r) => r.id));
}

/** Enrols students by number; those already in the book keep their enrolment. Gives everybody's, by number. */
export async function enrol(
  db: Db,
  school: string,
  book: string,
  students: { number: string; section: string | null; extraTimeHours: number }[],
): Promise<{ id: string; number: string }[]> {
  await db.query(
    `insert into enrolment (school, book, id, person, section, extra_time_hours)
     select $1, $2, n.id, p.id, n.section, n.extra
     from unnest($3::text[], $4::text[], $5::text[], $6::numeric[]) as n (id, number, section, extra)
     join person p on p.school = $1 and p.number = n.number and p.role = 'student'
     on conflict (school, book, person) do nothing`,
    [
      school,
      book,
      students.map(() => newId('s')),
      students.map((s) => s.number),
      students.map((s) => s.section),
      students.map((s) => s.extraTimeHours),
    ],
  );
  const { rows } = await db.query<{ id: string; number: string }>(
    `select e.id, p.number from enrolment e join person p on p.school = e.school and p.id = e.person
     where e.school = $1 and e.book = $2 and p.number = any($3)`,
    [school, book, students.map((s) => s.number)],
  );
  return rows;
}

/** The enrolments of one person, with their books. */
export async function enrolmentsOf(
  db: Db,
  school: string,
  person: string,
): Promise<{ book: string; enrolment: string }[]> {
  const { rows } = await db.query<{ book: string; enrolment: string }>(
    'select book, id as enrolment from enrolment where school = $1 and person = $2 and left_at is null',
    [school, person],
  );
  return rows;
}
