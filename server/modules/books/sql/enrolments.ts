import type { BookTransaction } from '../../../kernel/book-transaction';
import type { Student } from '@core/book/document';
import { newId, type Db } from '../../../kernel/database';

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
  /** The variant of the rules that they have: their own, or their section's. */
  variant: string | null;
  ownVariant: string | null;
}

/** The students of a book by name; those who left are listed where `all`. */
export async function studentsOf(db: Db, school: string, book: string, all = false): Promise<StudentRow[]> {
  const { rows } = await db.query<Omit<StudentRow, 'extraTimeHours'> & { extraTimeHours: string }>(
    `select e.id, e.person, p.family, p.given, p.number, p.mail, e.section, e.extra_time_hours as "extraTimeHours",
       e.left_at is not null as left, e.variant as "ownVariant", coalesce(e.variant, s.variant) as variant
     from enrolment e join person p on p.school = e.school and p.id = e.person
       left join section s on s.school = e.school and s.book = e.book and s.id = e.section
     where e.school = $1 and e.book = $2 and ($3 or e.left_at is null)
     order by lower(p.family), lower(p.given), e.id`,
    [school, book, all],
  );
  return rows.map((r) => ({ ...r, extraTimeHours: Number(r.extraTimeHours) }));
}

export const toDocumentStudent = (
  s: Pick<StudentRow, 'id' | 'section' | 'extraTimeHours'> & { variant?: string | null },
): Student => ({
  id: s.id,
  ...(s.section === null ? {} : { section: s.section }),
  ...(s.extraTimeHours === 0 ? {} : { extraTimeHours: s.extraTimeHours }),
  ...(s.variant == null ? {} : { variant: s.variant }),
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
  db: BookTransaction,
  school: string,
  book: string,
  students: { number: string; section: string | null; extraTimeHours: number }[],
): Promise<{ id: string; number: string }[]> {
  await db.query(
    `with made as (insert into enrolment (school, book, id, person, section, extra_time_hours)
     select $1, $2, n.id, p.id, n.section, n.extra
     from unnest($3::text[], $4::text[], $5::text[], $6::numeric[]) as n (id, number, section, extra)
     join person p on p.school = $1 and p.number = n.number and p.role = 'student'
     on conflict (school, book, person) do nothing returning id, section)
     insert into stay (school, book, enrolment, number, section, since)
       select $1, $2, id, 1, section, (select school_now($1)) from made`,
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
  all = false,
): Promise<{ book: string; enrolment: string; left: boolean }[]> {
  const { rows } = await db.query<{ book: string; enrolment: string; left: boolean }>(
    `select book, id as enrolment, left_at is not null as left from enrolment
     where school = $1 and person = $2 and ($3 or left_at is null)`,
    [school, person, all],
  );
  return rows;
}

export type Account = 'ready' | 'invited' | 'none';
/** Whether somebody can sign in, may make themselves a password, or neither. */
export const ACCOUNT = `case when p.password_hash is not null then 'ready'
  when exists (select 1 from invitation i where i.school = p.school and i.person = p.id and i.expires_at > now()) then 'invited'
  else 'none' end`;

export interface StayRow {
  enrolment: string;
  section: string | null;
  since: string;
  until: string | null;
}

export async function staysOf(db: Db, school: string, book: string): Promise<StayRow[]> {
  const { rows } = await db.query<StayRow>(
    'select enrolment, section, since, until from stay where school = $1 and book = $2 order by enrolment, number',
    [school, book],
  );
  return rows;
}

/** How each student of a book signs in. */
export async function accountsOf(
  db: Db,
  school: string,
  book: string,
): Promise<Map<string, { login: string; account: Account }>> {
  const { rows } = await db.query<{ id: string; login: string; account: Account }>(
    `select e.id, p.login, ${ACCOUNT} as account from enrolment e join person p on p.school = e.school and p.id = e.person
     where e.school = $1 and e.book = $2`,
    [school, book],
  );
  return new Map(rows.map(({ id, ...a }) => [id, a]));
}

export interface EnrolmentWrite {
  id: string;
  section: string | null;
  extraTimeHours: number;
  left: boolean;
  ownVariant: string | null;
}

/** Writes where students are now; each change of place ends a stay and begins another. */
export async function writeEnrolments(
  db: BookTransaction,
  school: string,
  book: string,
  all: EnrolmentWrite[],
): Promise<void> {
  await db.query(
    `with n as (select * from unnest($3::text[], $4::text[], $5::numeric[], $6::boolean[], $7::text[]) as n (id, section, extra, gone, variant)),
      moved as (select n.*, (select school_now($1)) as now from n join enrolment e on e.school = $1 and e.book = $2 and e.id = n.id
        where e.section is distinct from n.section or (e.left_at is not null) <> n.gone),
      ended as (update stay s set until = m.now from moved m
        where s.school = $1 and s.book = $2 and s.enrolment = m.id and s.until is null),
      begun as (insert into stay (school, book, enrolment, number, section, since)
        select $1, $2, m.id, 1 + coalesce((select max(s.number) from stay s where s.school = $1 and s.book = $2 and s.enrolment = m.id), 0), m.section, m.now
        from moved m where not m.gone)
     update enrolment e set section = n.section, extra_time_hours = n.extra, variant = n.variant,
       left_at = case when n.gone then coalesce(e.left_at, (select school_now($1))) end
     from n where e.school = $1 and e.book = $2 and e.id = n.id`,
    [
      school,
      book,
      all.map((e) => e.id),
      all.map((e) => e.section),
      all.map((e) => e.extraTimeHours),
      all.map((e) => e.left),
      all.map((e) => e.ownVariant),
    ],
  );
}

/** The variants of the rules that students or sections of a book have, with how many of them. */
export async function variantsInUse(
  db: Db,
  school: string,
  book: string,
): Promise<{ variant: string; students: number; sections: number }[]> {
  const { rows } = await db.query<{ variant: string; students: number; sections: number }>(
    `select variant, sum(student)::int as students, sum(section)::int as sections from (
       select variant, 1 as student, 0 as section from enrolment where school = $1 and book = $2 and variant is not null
       union all select variant, 0, 1 from section where school = $1 and book = $2 and variant is not null) as used
     group by variant order by variant`,
    [school, book],
  );
  return rows;
}
