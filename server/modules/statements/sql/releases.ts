import type { BookTransaction } from '../../../kernel/book-transaction';
import type { EntryContent } from '@core/book/change';
import type { Skeleton } from '@core/book/assemble';
import type { Db } from '../../../kernel/database';
import type { StatementBody } from '@contract/statements';

export interface ReleasedEntry {
  enrolment: string;
  assessment: string;
  entry: EntryContent;
  releasedAt: string;
  by: { family: string; given: string };
}

/** What is released now to some students, entries as they were at release. */
export async function releasedTo(db: Db, school: string, book: string, enrolments: string[]): Promise<ReleasedEntry[]> {
  const { rows } = await db.query<{
    enrolment: string;
    assessment: string;
    entry: string;
    releasedAt: string;
    family: string;
    given: string;
  }>(
    `select r.enrolment, r.assessment, r.entry, r.released_at as "releasedAt", p.family, p.given
     from released_entry r join person p on p.school = r.school and p.id = r.released_by
     where r.school = $1 and r.book = $2 and r.enrolment = any($3) and r.withdrawn_at is null`,
    [school, book, enrolments],
  );
  return rows.map((r) => ({
    enrolment: r.enrolment,
    assessment: r.assessment,
    entry: JSON.parse(r.entry) as EntryContent,
    releasedAt: r.releasedAt,
    by: { family: r.family, given: r.given },
  }));
}

/** What students see as it is already was released when it was: once more says nothing new. */
const SAME = 'r.withdrawn_at is null and r.entry = excluded.entry';

export async function writeReleased(
  db: BookTransaction,
  r: {
    school: string;
    book: string;
    assessment: string;
    at: string;
    by: string;
    cells: { enrolment: string; entry: string; version: number }[];
  },
): Promise<void> {
  await db.query(
    `insert into released_entry as r (school, book, assessment, released_at, released_by, enrolment, entry, entry_version)
     select $1, $2, $3, $4, $5, * from unnest($6::text[], $7::text[], $8::int[])
     on conflict (school, book, enrolment, assessment) do update set entry = excluded.entry, entry_version = excluded.entry_version,
       released_at = case when ${SAME} then r.released_at else excluded.released_at end,
       released_by = case when ${SAME} then r.released_by else excluded.released_by end, withdrawn_at = null`,
    [
      r.school,
      r.book,
      r.assessment,
      r.at,
      r.by,
      r.cells.map((c) => c.enrolment),
      r.cells.map((c) => c.entry),
      r.cells.map((c) => c.version),
    ],
  );
}

/** Withdraws from those of the enrolments who had it; gives them. */
export async function deleteReleased(
  db: BookTransaction,
  school: string,
  book: string,
  assessment: string,
  enrolments: string[],
  at: string,
): Promise<string[]> {
  const { rows } = await db.query<{ enrolment: string }>(
    `update released_entry set withdrawn_at = $5 where school = $1 and book = $2 and assessment = $3 and enrolment = any($4)
       and withdrawn_at is null returning enrolment`,
    [school, book, assessment, enrolments, at],
  );
  return rows.map((r) => r.enrolment);
}

export async function insertSkeleton(
  db: BookTransaction,
  s: { school: string; book: string; id: string; text: string; rulesVersion: number },
): Promise<void> {
  await db.query(
    `insert into released_skeleton (school, book, id, skeleton, rules_version) values ($1, $2, $3, $4, $5) on conflict do nothing`,
    [s.school, s.book, s.id, s.text, s.rulesVersion],
  );
}

export interface ReleasedSkeleton {
  id: string;
  skeleton: Skeleton;
  rulesVersion: number;
}

/** The released skeleton of each student who has a slip, by enrolment. */
export async function skeletonsOf(
  db: Db,
  school: string,
  book: string,
  enrolments: string[],
): Promise<Map<string, ReleasedSkeleton>> {
  const slips = await db.query<{ enrolment: string; skeleton: string }>(
    'select enrolment, skeleton from student_statement where school = $1 and book = $2 and enrolment = any($3)',
    [school, book, enrolments],
  );
  const ids = [...new Set(slips.rows.map((r) => r.skeleton))];
  const kept = await db.query<{ id: string; skeleton: string; rulesVersion: number }>(
    'select id, skeleton, rules_version as "rulesVersion" from released_skeleton where school = $1 and book = $2 and id = any($3)',
    [school, book, ids],
  );
  const byId = new Map(
    kept.rows.map((r) => [
      r.id,
      { id: r.id, skeleton: JSON.parse(r.skeleton) as Skeleton, rulesVersion: r.rulesVersion },
    ]),
  );
  return new Map(slips.rows.map((r) => [r.enrolment, byId.get(r.skeleton)!]));
}

const STATEMENTS_AT_ONCE = 25;

export async function insertStatements(
  db: BookTransaction,
  school: string,
  book: string,
  at: string,
  slips: { enrolment: string; skeleton: string; body: string }[],
): Promise<void> {
  // Some at a time, and as JSON: a list of so many long texts would be escaped letter by letter in one go.
  for (let from = 0; from < slips.length; from += STATEMENTS_AT_ONCE)
    await db.query(
      `insert into student_statement (school, book, made_at, enrolment, skeleton, body)
       select $1, $2, $3, x.enrolment, x.skeleton, x.body
         from json_to_recordset($4::json) x (enrolment text, skeleton text, body text)
       on conflict (school, book, enrolment) do update set skeleton = excluded.skeleton, body = excluded.body, made_at = excluded.made_at`,
      [school, book, at, JSON.stringify(slips.slice(from, from + STATEMENTS_AT_ONCE))],
    );
}

export async function statementOf(db: Db, school: string, book: string, enrolment: string): Promise<string | null> {
  const { rows } = await db.query<{ body: string }>(
    'select body from student_statement where school = $1 and book = $2 and enrolment = $3',
    [school, book, enrolment],
  );
  return rows[0]?.body ?? null;
}

/** What each of these students reads now, by enrolment. */
export async function statementsOf(
  db: Db,
  school: string,
  book: string,
  enrolments: string[],
): Promise<Map<string, StatementBody>> {
  const { rows } = await db.query<{ enrolment: string; body: string }>(
    'select enrolment, body from student_statement where school = $1 and book = $2 and enrolment = any($3)',
    [school, book, enrolments],
  );
  return new Map(rows.map((r) => [r.enrolment, JSON.parse(r.body) as StatementBody]));
}

/** Students of a book to whom something is released. */
export async function releasedTogether(db: Db, school: string, book: string): Promise<string[]> {
  const { rows } = await db.query<{ enrolment: string }>(
    'select distinct enrolment from released_entry where school = $1 and book = $2 and withdrawn_at is null',
    [school, book],
  );
  return rows.map((r) => r.enrolment);
}

/** How many cells the ledger of a book has, empty ones too. */
export async function cellsOfBook(db: Db, school: string, book: string): Promise<number> {
  const { rows } = await db.query<{ cells: number }>(
    `select (select count(*)::int from enrolment where school = $1 and book = $2 and left_at is null)
       * (select count(*)::int from assessment where school = $1 and book = $2 and archived_at is null) as cells`,
    [school, book],
  );
  return rows[0]!.cells;
}
