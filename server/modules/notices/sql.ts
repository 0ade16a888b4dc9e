import { newId, type Db } from '../../kernel/database';
import type { Notices } from '@contract/notices';

/** Tells these students something about their book. */
export async function insertNotices(
  db: Db,
  school: string,
  book: string,
  enrolments: string[],
  text: string,
): Promise<void> {
  await db.query(
    `insert into notice (school, id, book, enrolment, body) select $1, n.id, $2, n.enrolment, $3
     from unnest($4::text[], $5::text[]) as n (id, enrolment)`,
    [school, book, text, enrolments.map(() => newId('n')), enrolments],
  );
}

/** What one student was told, the latest first. */
export async function noticesOf(db: Db, school: string, person: string): Promise<Notices> {
  const { rows } = await db.query<Notices[number]>(
    `select n.id, n.book, b.title as "bookTitle", n.at, n.body as text, n.seen_at is not null as seen
     from notice n join enrolment e on e.school = n.school and e.book = n.book and e.id = n.enrolment
       join book b on b.school = n.school and b.id = n.book
     where n.school = $1 and e.person = $2 order by n.at desc, n.id limit 100`,
    [school, person],
  );
  return rows;
}

export async function markSeen(db: Db, school: string, person: string, id: string): Promise<void> {
  await db.query(
    `update notice n set seen_at = coalesce(seen_at, clock_timestamp()) from enrolment e
     where n.school = $1 and n.id = $3 and e.school = n.school and e.book = n.book and e.id = n.enrolment and e.person = $2`,
    [school, person, id],
  );
}
