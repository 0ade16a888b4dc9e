import { CALCULATION_VERSION } from '@core/calculation/repairs';
import type { BookTransaction } from '../../../kernel/book-transaction';
import type { RulesPart } from '@core/book/change';
import type { BookRole, BookStanding } from '../../../kernel/permissions';
import type { Db } from '../../../kernel/database';
import { rulesAfter } from '../../../kernel/journal/sql/rules';
import { Refusal } from '../../../kernel/refusal';

export type { BookRole } from '../../../kernel/permissions';

export interface BookRow {
  school: string;
  id: string;
  title: string;
  term: string;
  timeZone: string;
  showsStanding: boolean;
  archived: boolean;
  /** The school wants a reason for every exception. */
  wantsReasons: boolean;
  /** What students tick before they hand in, in the book's words; '' nothing, null: as the school says. */
  statement: string | null;
  schoolStatement: string;
  /** Assessments that take work are marked without names; null: as the school says. */
  hidesNames: boolean | null;
  schoolHidesNames: boolean;
  seq: number;
  /** Another text after every change of the book, a restored back-up included. */
  stamp: string;
  rulesVersion: number;
}

const BOOK = `select b.school, b.id, b.title, t.title as term, coalesce(b.time_zone, s.time_zone) as "timeZone",
    b.shows_standing as "showsStanding", b.archived_at is not null as archived, s.wants_reasons as "wantsReasons",
    b.statement, s.statement as "schoolStatement", b.hides_names as "hidesNames", s.hides_names as "schoolHidesNames",
    b.seq, b.xmin::text as stamp, b.rules_version as "rulesVersion"
  from book b join term t on t.school = b.school and t.id = b.term join school s on s.id = b.school`;

export async function findBook(db: Db, school: string, id: string): Promise<BookRow | null> {
  return (await db.query<BookRow>(`${BOOK} where b.school = $1 and b.id = $2`, [school, id])).rows[0] ?? null;
}

/** The books of somebody on the staff; those put away too where `archived`. */
export async function booksOfStaff(db: Db, school: string, person: string, archived = false): Promise<BookRow[]> {
  const { rows } = await db.query<BookRow>(
    `${BOOK} join book_staff w on w.school = b.school and w.book = b.id where b.school = $1 and w.person = $2 and ($3 or b.archived_at is null) order by b.title`,
    [school, person, archived],
  );
  return rows;
}

export async function booksOfSchool(db: Db, school: string, archived = false): Promise<BookRow[]> {
  return (
    await db.query<BookRow>(
      `${BOOK} where b.school = $1 and ($2 or b.archived_at is null) order by t.starts desc, b.title`,
      [school, archived],
    )
  ).rows;
}

export async function roleInBook(db: Db, school: string, book: string, person: string): Promise<BookRole | null> {
  const { rows } = await db.query<{ role: BookRole }>(
    'select role from book_staff where school = $1 and book = $2 and person = $3',
    [school, book, person],
  );
  return rows[0]?.role ?? null;
}

/** What somebody is to a book now; null where the school has them no more. */
export async function standingIn(
  db: Db,
  school: string,
  book: string,
  person: string,
): Promise<Omit<BookStanding, 'bookThere'> | null> {
  const { rows } = await db.query<Omit<BookStanding, 'bookThere'>>(
    `select p.role as "personRole", b.archived_at is not null as "bookArchived", w.role as "bookRole"
     from book b join person p on p.school = b.school and p.id = $3 and p.active
       left join book_staff w on w.school = b.school and w.book = b.id and w.person = p.id
     where b.school = $1 and b.id = $2`,
    [school, book, person],
  );
  return rows[0] ?? null;
}

export async function staffOf(
  db: Db,
  school: string,
  book: string,
): Promise<{ person: string; login: string; family: string; given: string; role: BookRole }[]> {
  const { rows } = await db.query<{ person: string; login: string; family: string; given: string; role: BookRole }>(
    `select w.person, p.login, p.family, p.given, w.role from book_staff w join person p on p.school = w.school and p.id = w.person
     where w.school = $1 and w.book = $2 order by w.role desc, p.family`,
    [school, book],
  );
  return rows;
}

export interface SectionRow {
  id: string;
  title: string;
  /** The variant of the rules that its students have who have none of their own. */
  variant: string | null;
}

export async function sectionsOf(db: Db, school: string, book: string): Promise<SectionRow[]> {
  return (
    await db.query<SectionRow>(
      'select id, title, variant from section where school = $1 and book = $2 order by position',
      [school, book],
    )
  ).rows;
}

/** Rules as they stand on the disk; null where that is no text of rules. */
function readRules(text: string | null | undefined): RulesPart | null {
  try {
    const rules = JSON.parse(text ?? 'null') as Partial<RulesPart> | null;
    return Array.isArray(rules?.tree?.children) ? (rules as RulesPart) : null;
  } catch {
    return null;
  }
}

/** The rules of a book. Where the disk has damaged them they are read from the journal, which has them too. */
export async function rulesAt(db: Db, school: string, book: string, version: number): Promise<RulesPart> {
  const { rows } = await db.query<{ rules: string }>(
    'select rules from rules_version where school = $1 and book = $2 and version = $3',
    [school, book, version],
  );
  const rules = readRules(rows[0]?.rules) ?? readRules(await rulesOfJournal(db, school, book, version));
  if (rules) return rules;
  throw new Refusal(
    'broken',
    `Version ${version} of this book’s rules cannot be read from the server’s disk, and not from the journal either. Scores and journal are as they were; whoever keeps the server has to put the rules back from a back-up.`,
  );
}

/** The journal's text of the rules that a book has now. */
async function rulesOfJournal(db: Db, school: string, book: string, version: number): Promise<string | null> {
  const row = await findBook(db, school, book);
  if (row?.rulesVersion !== version) return null;
  try {
    return await rulesAfter(db, school, book, row.seq);
  } catch (error) {
    // The disk has damaged this line too.
    if (error instanceof SyntaxError) return null;
    throw error;
  }
}

/** The reasons of the versions of a book's rules after one, the earliest first. */
export async function reasonsSince(
  db: Db,
  school: string,
  book: string,
  after: number,
): Promise<{ version: number; reason: string }[]> {
  const { rows } = await db.query<{ version: number; reason: string }>(
    'select version, reason from rules_version where school = $1 and book = $2 and version > $3 order by version',
    [school, book, after],
  );
  return rows;
}

export async function insertRules(
  db: BookTransaction,
  r: { school: string; book: string; version: number; rules: RulesPart; by: string; reason: string },
): Promise<void> {
  await db.query(
    'insert into rules_version (school, book, version, rules, made_by, reason, made_at) values ($1, $2, $3, $4, $5, $6, school_now($1))',
    [r.school, r.book, r.version, JSON.stringify(r.rules), r.by, r.reason],
  );
  await db.query('update book set rules_version = $3 where school = $1 and id = $2', [r.school, r.book, r.version]);
}

export async function insertBook(
  db: BookTransaction,
  b: {
    school: string;
    id: string;
    term: string;
    title: string;
    sections: { id: string; title: string; variant?: string | null }[];
    staff: { person: string; role: BookRole }[];
    timeZone?: string | null;
    statement: string | null;
    hidesNames: boolean | null;
  },
): Promise<void> {
  await db.query(
    `insert into book (school, id, term, title, time_zone, statement, hides_names, calculation)
     values ($1, $2, $3, $4, $5, $6, $7, $8)`,
    [b.school, b.id, b.term, b.title, b.timeZone ?? null, b.statement, b.hidesNames, CALCULATION_VERSION],
  );
  await db.query(
    `insert into section (school, book, id, title, variant, position)
     select $1, $2, * from unnest($3::text[], $4::text[], $5::text[], $6::int[])`,
    [
      ...[b.school, b.id, b.sections.map((s) => s.id), b.sections.map((s) => s.title)],
      ...[b.sections.map((s) => s.variant ?? null), b.sections.map((_, i) => i)],
    ],
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

/** What is left out stays. */
export async function updateBook(
  db: BookTransaction,
  school: string,
  book: string,
  to: { showsStanding?: boolean; title?: string; archived?: boolean; statement?: string | null; hidesNames?: boolean | null }, // prettier-ignore
): Promise<void> {
  await db.query(
    `update book set shows_standing = coalesce($3, shows_standing), title = coalesce($4, title),
       archived_at = case when $5::boolean is null then archived_at when $5 then coalesce(archived_at, school_now($1)) end,
       statement = case when $6 then $7 else statement end,
       hides_names = case when $8 then $9 else hides_names end
     where school = $1 and id = $2`,
    [
      ...[school, book, to.showsStanding ?? null, to.title ?? null, to.archived ?? null],
      ...[to.statement !== undefined, to.statement ?? null],
      ...[to.hidesNames !== undefined, to.hidesNames ?? null],
    ],
  );
}

export async function termsOf(
  db: Db,
  school: string,
): Promise<{ id: string; title: string; starts: string; ends: string }[]> {
  const { rows } = await db.query<{ id: string; title: string; starts: string; ends: string }>(
    'select id, title, starts, ends from term where school = $1 order by starts desc, id',
    [school],
  );
  return rows;
}

/** Makes a section, or gives it another title. */
export async function putSection(
  db: BookTransaction,
  school: string,
  book: string,
  { id, title, variant }: SectionRow,
): Promise<void> {
  await db.query(
    `insert into section (school, book, id, title, variant, position)
     select $1, $2, $3, $4, $5, coalesce(max(position), -1) + 1 from section where school = $1 and book = $2
     on conflict (school, book, id) do update set title = excluded.title, variant = excluded.variant`,
    [school, book, id, title, variant],
  );
}

/** Gives somebody a role in a book; null takes them off it. */
export async function putStaff(
  db: BookTransaction,
  school: string,
  book: string,
  person: string,
  role: BookRole | null,
): Promise<void> {
  if (role === null)
    await db.query('delete from book_staff where school = $1 and book = $2 and person = $3', [school, book, person]);
  else
    await db.query(
      `insert into book_staff (school, book, person, role) values ($1, $2, $3, $4)
       on conflict (school, book, person) do update set role = excluded.role`,
      [school, book, person, role],
    );
}
