import type { PlacedItem } from '@core/book/assemble';
import type { RulesPart } from '@core/book/change';
import type { Item, Student } from '@core/book/document';
import { newId, numberOrNull, type Db } from './database';

export type BookRole = 'teacher' | 'co-teacher' | 'marker';

export interface BookRow {
  school: string;
  id: string;
  title: string;
  term: string;
  timeZone: string;
  showsStanding: boolean;
  seq: number;
  /** Another text after every change of the book, a restored back-up included. */
  stamp: string;
  rulesVersion: number;
}

const BOOK = `select b.school, b.id, b.title, t.title as term, s.time_zone as "timeZone", b.shows_standing as "showsStanding",
    b.seq, b.xmin::text as stamp, b.rules_version as "rulesVersion"
  from book b join term t on t.school = b.school and t.id = b.term join school s on s.id = b.school`;

export async function findBook(db: Db, school: string, id: string): Promise<BookRow | null> {
  return (await db.query<BookRow>(`${BOOK} where b.school = $1 and b.id = $2`, [school, id])).rows[0] ?? null;
}

export async function booksOfStaff(db: Db, school: string, person: string): Promise<BookRow[]> {
  const { rows } = await db.query<BookRow>(
    `${BOOK} join book_staff w on w.school = b.school and w.book = b.id where b.school = $1 and w.person = $2 order by b.title`,
    [school, person],
  );
  return rows;
}

export async function booksOfSchool(db: Db, school: string): Promise<BookRow[]> {
  return (await db.query<BookRow>(`${BOOK} where b.school = $1 order by t.starts desc, b.title`, [school])).rows;
}

export async function roleInBook(db: Db, school: string, book: string, person: string): Promise<BookRole | null> {
  const { rows } = await db.query<{ role: BookRole }>(
    'select role from book_staff where school = $1 and book = $2 and person = $3',
    [school, book, person],
  );
  return rows[0]?.role ?? null;
}

export async function staffOf(
  db: Db,
  school: string,
  book: string,
): Promise<{ person: string; family: string; given: string; role: BookRole }[]> {
  const { rows } = await db.query<{ person: string; family: string; given: string; role: BookRole }>(
    `select w.person, p.family, p.given, w.role from book_staff w join person p on p.school = w.school and p.id = w.person
     where w.school = $1 and w.book = $2 order by w.role desc, p.family`,
    [school, book],
  );
  return rows;
}

export async function sectionsOf(db: Db, school: string, book: string): Promise<{ id: string; title: string }[]> {
  return (
    await db.query<{ id: string; title: string }>(
      'select id, title from section where school = $1 and book = $2 order by position',
      [school, book],
    )
  ).rows;
}

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

export interface AssessmentRow {
  id: string;
  title: string;
  category: string;
  points: number;
  due: string | null;
  closes: string | null;
  takesWork: boolean;
  shown: boolean;
  more: Partial<Item>;
  version: number;
}

type Raw = Omit<AssessmentRow, 'points' | 'more'> & { points: string; more: string };
const ASSESSMENT =
  'select id, title, category, points, due, closes, takes_work as "takesWork", shown, more, version from assessment';
const toAssessment = (r: Raw): AssessmentRow => ({
  ...r,
  points: numberOrNull(r.points)!,
  more: JSON.parse(r.more) as Partial<Item>,
});

export async function assessmentsOf(db: Db, school: string, book: string): Promise<AssessmentRow[]> {
  const { rows } = await db.query<Raw>(`${ASSESSMENT} where school = $1 and book = $2 order by position, id`, [
    school,
    book,
  ]);
  return rows.map(toAssessment);
}

/** Those of these assessments that the book has. */
export async function assessmentsNamed(db: Db, school: string, book: string, ids: string[]): Promise<AssessmentRow[]> {
  const { rows } = await db.query<Raw>(`${ASSESSMENT} where school = $1 and book = $2 and id = any($3)`, [
    school,
    book,
    ids,
  ]);
  return rows.map(toAssessment);
}

/** Those of these students that are in the book now. */
export async function enrolledAmong(db: Db, school: string, book: string, ids: string[]): Promise<Set<string>> {
  const { rows } = await db.query<{ id: string }>(
    'select id from enrolment where school = $1 and book = $2 and id = any($3) and left_at is null',
    [school, book, ids],
  );
  return new Set(rows.map((r) => r.id));
}

export function toPlacedItem(a: AssessmentRow): PlacedItem {
  const item: Item = { id: a.id, type: 'item', points: a.points, ...a.more };
  if (a.due !== null) item.due = a.due;
  if (a.closes !== null) item.closes = a.closes;
  return { category: a.category, item };
}

export async function insertAssessment(
  db: Db,
  school: string,
  book: string,
  a: Omit<AssessmentRow, 'version'>,
): Promise<void> {
  await db.query(
    `insert into assessment (school, book, id, title, category, position, points, due, closes, takes_work, shown, more)
     select $1, $2, $3, $4, $5, coalesce(max(position), 0) + 1, $6, $7, $8, $9, $10, $11 from assessment where school = $1 and book = $2`,
    [school, book, a.id, a.title, a.category, a.points, a.due, a.closes, a.takesWork, a.shown, JSON.stringify(a.more)],
  );
}

export async function rulesAt(db: Db, school: string, book: string, version: number): Promise<RulesPart> {
  const { rows } = await db.query<{ rules: string }>(
    'select rules from rules_version where school = $1 and book = $2 and version = $3',
    [school, book, version],
  );
  if (!rows[0]) throw new Error(`book ${book} has no rules version ${version}`);
  return JSON.parse(rows[0].rules) as RulesPart;
}

export async function insertRules(
  db: Db,
  r: { school: string; book: string; version: number; rules: RulesPart; by: string; reason: string },
): Promise<void> {
  await db.query(
    'insert into rules_version (school, book, version, rules, made_by, reason) values ($1, $2, $3, $4, $5, $6)',
    [r.school, r.book, r.version, JSON.stringify(r.rules), r.by, r.reason],
  );
  await db.query('update book set rules_version = $3 where school = $1 and id = $2', [r.school, r.book, r.version]);
}

export async function insertBook(
  db: Db,
  b: {
    school: string;
    id: string;
    term: string;
    title: string;
    sections: { id: string; title: string }[];
    staff: { person: string; role: BookRole }[];
  },
): Promise<void> {
  await db.query('insert into book (school, id, term, title) values ($1, $2, $3, $4)', [
    b.school,
    b.id,
    b.term,
    b.title,
  ]);
  await db.query(
    `insert into section (school, book, id, title, position) select $1, $2, * from unnest($3::text[], $4::text[], $5::int[])`,
    [b.school, b.id, b.sections.map((s) => s.id), b.sections.map((s) => s.title), b.sections.map((_, i) => i)],
  );
  await db.query(
    `insert into book_staff (school, book, person, role) select $1, $2, * from unnest($3::text[], $4::text[])`,
    [b.school, b.id, b.staff.map((s) => s.person), b.staff.map((s) => s.role)],
  );
}

export async function insertTerm(
  db: Db,
  school: string,
  t: { id: string; title: string; starts: string; ends: string },
): Promise<boolean> {
  const { rowCount } = await db.query(
    'insert into term (school, id, title, starts, ends) values ($1, $2, $3, $4, $5) on conflict do nothing',
    [school, t.id, t.title, t.starts, t.ends],
  );
  return rowCount === 1;
}

export async function termExists(db: Db, school: string, id: string): Promise<boolean> {
  return (await db.query('select 1 from term where school = $1 and id = $2', [school, id])).rowCount === 1;
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

export async function setShowsStanding(db: Db, school: string, book: string, shows: boolean): Promise<void> {
  await db.query('update book set shows_standing = $3 where school = $1 and id = $2', [school, book, shows]);
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
