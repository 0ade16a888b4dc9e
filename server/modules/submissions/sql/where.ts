import type { Db } from '../../../kernel/database';

export interface FoundStudent {
  person: string;
  family: string;
  given: string;
  number: string;
}

/** Students of these books by words of their name or number, by name. */
export async function findStudents(
  db: Db,
  school: string,
  books: readonly string[],
  words: string,
  most: number,
): Promise<FoundStudent[]> {
  const { rows } = await db.query<FoundStudent>(
    `select p.id as person, p.family, p.given, p.number from person p
     where p.school = $1 and p.role = 'student'
       and exists (select 1 from enrolment e where e.school = p.school and e.person = p.id and e.book = any($2))
       and (select bool_and(position(lower(w) in lower(concat_ws(' ', p.given, p.family, p.number, p.login))) > 0)
         from unnest($3::text[]) as w)
     order by lower(p.family), lower(p.given), p.id limit $4`,
    [school, books, words.split(/\s+/).filter(Boolean).slice(0, 8), most],
  );
  return rows;
}

/** Where a student is or was in these books, and who they are. */
export async function placesOfStudent(
  db: Db,
  school: string,
  person: string,
  books: readonly string[],
): Promise<(FoundStudent & { book: string; enrolment: string; left: boolean })[]> {
  const { rows } = await db.query<FoundStudent & { book: string; enrolment: string; left: boolean }>(
    `select p.id as person, p.family, p.given, p.number, e.book, e.id as enrolment, e.left_at is not null as left
     from enrolment e join person p on p.school = e.school and p.id = e.person
     where e.school = $1 and e.person = $2 and e.book = any($3) and p.role = 'student'`,
    [school, person, books],
  );
  return rows;
}

export async function personOfEnrolment(
  db: Db,
  school: string,
  book: string,
  enrolment: string,
): Promise<string | null> {
  const { rows } = await db.query<{ person: string }>(
    'select person from enrolment where school = $1 and book = $2 and id = $3',
    [school, book, enrolment],
  );
  return rows[0]?.person ?? null;
}

/** What an assessment and its book are called. */
export async function titleOf(
  db: Db,
  school: string,
  at: { book: string; submission: string },
): Promise<{ bookTitle: string; title: string } | null> {
  const { rows } = await db.query<{ bookTitle: string; title: string }>(
    `select b.title as "bookTitle", a.title from submission s
       join book b on b.school = s.school and b.id = s.book
       join assessment a on a.school = s.school and a.book = s.book and a.id = s.assessment
     where s.school = $1 and s.book = $2 and s.id = $3`,
    [school, at.book, at.submission],
  );
  return rows[0] ?? null;
}
