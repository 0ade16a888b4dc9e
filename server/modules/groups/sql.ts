import type { BookTransaction } from '../../kernel/book-transaction';
import type { Db } from '../../kernel/database';

export interface StudentGroup {
  id: string;
  title: string;
  version: number;
  members: string[];
}

export async function groupsOfStudents(db: Db, school: string, book: string): Promise<StudentGroup[]> {
  const { rows } = await db.query<StudentGroup>(
    `select g.id, g.title, g.version, coalesce(array_agg(m.enrolment order by m.enrolment)
       filter (where m.enrolment is not null), '{}') as members
     from student_group g left join student_group_member m
       on m.school = g.school and m.book = g.book and m.student_group = g.id
     where g.school = $1 and g.book = $2 group by g.id, g.title, g.version order by lower(g.title), g.id`,
    [school, book],
  );
  return rows;
}

export async function writeGroup(db: BookTransaction, school: string, book: string, g: StudentGroup): Promise<void> {
  await db.query(
    `insert into student_group (school, book, id, title, version) values ($1, $2, $3, $4, $5)
     on conflict (school, book, id) do update set title = excluded.title, version = excluded.version`,
    [school, book, g.id, g.title, g.version],
  );
  await db.query('delete from student_group_member where school = $1 and book = $2 and student_group = $3', [
    school,
    book,
    g.id,
  ]);
  await db.query(
    `insert into student_group_member (school, book, student_group, enrolment)
     select $1, $2, $3, * from unnest($4::text[])`,
    [school, book, g.id, g.members],
  );
}

export async function deleteGroup(db: BookTransaction, school: string, book: string, id: string): Promise<void> {
  await db.query('delete from student_group where school = $1 and book = $2 and id = $3', [school, book, id]);
}

export interface SavedView {
  id: string;
  title: string;
  query: string;
}

export async function viewsOf(db: Db, school: string, book: string, person: string): Promise<SavedView[]> {
  const { rows } = await db.query<SavedView>(
    `select id, title, query from saved_view where school = $1 and book = $2 and person = $3 order by lower(title), id`,
    [school, book, person],
  );
  return rows;
}

export async function writeView(db: Db, school: string, book: string, person: string, v: SavedView): Promise<void> {
  await db.query(
    `insert into saved_view (school, book, person, id, title, query) values ($1, $2, $3, $4, $5, $6)
     on conflict (school, book, person, id) do update set title = excluded.title, query = excluded.query`,
    [school, book, person, v.id, v.title, v.query],
  );
}

export async function deleteView(db: Db, school: string, book: string, person: string, id: string): Promise<void> {
  await db.query('delete from saved_view where school = $1 and book = $2 and person = $3 and id = $4', [
    school,
    book,
    person,
    id,
  ]);
}
