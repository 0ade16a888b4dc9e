import { isUndone } from '../../../kernel/journal/sql/batches';
import type { Db } from '../../../kernel/database';
import type { JournalKind } from '@contract/history';

/** What is asked of the journal. All that is given must hold. */
export interface JournalQuery {
  enrolment?: string;
  assessment?: string;
  person?: string;
  kinds?: JournalKind[];
  /** Only what was brought in. */
  intake?: boolean;
  /** Moments: from, and before. */
  from?: string;
  to?: string;
  words: string[];
  /** Assessments of which it is not said whose work is whose: what is asked about a student or by words is not looked for there. */
  hidden?: readonly string[];
  /** Lines with smaller numbers only. */
  before?: number;
}

export interface SetRow {
  batch: string;
  first: number;
  last: number;
  at: string;
  family: string;
  given: string;
  /** A student: of the one who wrote the lines. */
  byStudent: boolean;
  kind: JournalKind;
  set: string | null;
  title: string;
  reason: string;
  undone: boolean;
  lines: number;
  students: number;
}

export interface LineRow {
  batch: string;
  seq: number;
  kind: JournalKind;
  assessment: string | null;
  enrolment: string | null;
  was: string | null;
  becomes: string | null;
}

/** A condition over the line `j` with its values from $3 on. */
interface Filter {
  where: string;
  values: unknown[];
}

/** Text as a pattern that contains it. */
const containing = (word: string): string => `%${word.replace(/[\\%_]/g, '\\$&')}%`;

async function filterOf(db: Db, school: string, book: string, q: JournalQuery): Promise<Filter> {
  const values: unknown[] = [];
  const value = (v: unknown): string => `$${values.push(v) + 2}`;
  const parts: string[] = [];
  if (q.enrolment !== undefined) parts.push(`j.enrolment = ${value(q.enrolment)}`);
  if (q.assessment !== undefined) parts.push(`j.assessment = ${value(q.assessment)}`);
  if (q.person !== undefined) parts.push(`j.person = ${value(q.person)}`);
  if (q.kinds !== undefined) parts.push(`j.kind = any(${value(q.kinds)}::text[])`);
  if (q.from !== undefined) parts.push(`j.at >= ${value(q.from)}::timestamptz`);
  if (q.to !== undefined) parts.push(`j.at < ${value(q.to)}::timestamptz`);
  if (q.intake) parts.push(`j.batch in (select id from batch where school = $1 and book = $2 and kind = 'intake')`);
  if (q.hidden?.length && (q.enrolment !== undefined || q.person !== undefined || q.words.length > 0))
    parts.push(`(j.enrolment is null or j.assessment is null or j.assessment <> all(${value(q.hidden)}::text[]))`);
  for (const word of q.words) {
    const found = await named(db, school, book, word);
    parts.push(`(j.enrolment = any(${value(found.students)}::text[]) or j.assessment = any(${value(found.assessments)}::text[])
      or j.person = any(${value(found.people)}::text[]) or j.batch = any(${value(found.batches)}::text[])
      or case when j.kind = 'note' then j.becomes::jsonb ->> 'note' = any(${value(found.notes)}::text[]) else false end
      or j.becomes ilike ${value(containing(word))} or j.was ilike ${value(containing(word))})`);
  }
  return { where: parts.map((p) => ` and ${p}`).join(''), values };
}

/** What in a book is called by a word: names stand outside the lines. */
async function named(db: Db, school: string, book: string, word: string) {
  const pattern = containing(word);
  const ids = async (sql: string): Promise<string[]> =>
    (await db.query<{ id: string }>(sql, [school, book, pattern])).rows.map((r) => r.id);
  return {
    students: await ids(
      `select e.id from enrolment e join person p on p.school = e.school and p.id = e.person
       where e.school = $1 and e.book = $2 and (p.given || ' ' || p.family ilike $3 or p.number ilike $3)`,
    ),
    assessments: await ids(`select id from assessment where school = $1 and book = $2 and title ilike $3`),
    people: await ids(
      `select p.id from person p where p.school = $1 and p.given || ' ' || p.family ilike $3
         and exists (select 1 from journal j where j.school = $1 and j.book = $2 and j.person = p.id)`,
    ),
    batches: await ids(
      `select batch as id from journal_reason where school = $1 and book = $2 and reason ilike $3
       union select id from batch where school = $1 and book = $2 and title ilike $3`,
    ),
    notes: await ids(`select id from note_text where school = $1 and book = $2 and body ilike $3`),
  };
}

/** The latest sets that match, with how many of their lines do, and the first few of those. */
export async function journalSets(
  db: Db,
  school: string,
  book: string,
  q: JournalQuery,
  limit: number,
  shown: number,
): Promise<{ sets: SetRow[]; lines: LineRow[] }> {
  const f = await filterOf(db, school, book, q);
  const n = f.values.length + 3;
  const one = (below: string): string =>
    `select j.seq, j.batch from journal j where j.school = $1 and j.book = $2 and j.seq < ${below}${f.where}
     order by j.seq desc limit 1`;
  // From set to set by the index, whatever lies between: a set's lines follow each other.
  const { rows: hits } = await db.query<{ batch: string }>(
    `with recursive hit as (
       (${one(`$${n}::int`)})
       union all
       select x.seq, x.batch from hit h cross join lateral (
         ${one(`(select min(b.seq) from journal b where b.school = $1 and b.book = $2 and b.batch = h.batch)`)}) x)
     select batch from hit limit $${n + 1}`,
    [school, book, ...f.values, q.before ?? 2_147_483_647, limit],
  );
  const batches = hits.map((h) => h.batch);
  if (batches.length === 0) return { sets: [], lines: [] };
  const { rows: sets } = await db.query<SetRow>(
    `select j.batch, min(j.seq) as first, max(j.seq) as last, min(j.at) as at, p.family, p.given, p.role = 'student' as "byStudent",
       (array_agg(j.kind order by j.seq))[1] as kind, b.kind as set, coalesce(b.title, '') as title,
       coalesce(r.reason, '') as reason, ${isUndone('j.batch')} as undone, count(*)::int as lines,
       count(distinct j.enrolment)::int as students
     from journal j join person p on p.school = j.school and p.id = j.person
       left join batch b on b.school = j.school and b.book = j.book and b.id = j.batch
       left join journal_reason r on r.school = j.school and r.book = j.book and r.batch = j.batch
     where j.school = $1 and j.book = $2 and j.batch = any($${f.values.length + 3}::text[])${f.where}
     group by j.batch, p.family, p.given, p.role, b.kind, b.title, r.reason order by first desc`,
    [school, book, ...f.values, batches],
  );
  const { rows: lines } = await db.query<LineRow>(
    `select batch, seq, kind, assessment, enrolment, was, becomes from (
       select j.*, row_number() over (partition by j.batch order by j.seq) as nth from journal j
       where j.school = $1 and j.book = $2 and j.batch = any($${f.values.length + 3}::text[])${f.where}) x
     where nth <= $${f.values.length + 4} order by seq`,
    [school, book, ...f.values, batches, shown],
  );
  return { sets, lines };
}

export async function linesOfBatch(db: Db, school: string, book: string, batch: string): Promise<LineRow[]> {
  const { rows } = await db.query<LineRow>(
    `select batch, seq, kind, assessment, enrolment, was, becomes from journal
     where school = $1 and book = $2 and batch = $3 order by seq`,
    [school, book, batch],
  );
  return rows;
}

/** Of these sets those with a line about a student on one of these assessments. */
export async function batchesAbout(
  db: Db,
  school: string,
  book: string,
  batches: readonly string[],
  assessments: readonly string[],
): Promise<Set<string>> {
  if (batches.length === 0 || assessments.length === 0) return new Set();
  const { rows } = await db.query<{ batch: string }>(
    `select distinct batch from journal where school = $1 and book = $2 and batch = any($3) and assessment = any($4)
       and enrolment is not null`,
    [school, book, batches, assessments],
  );
  return new Set(rows.map((r) => r.batch));
}

/** Everybody whose lines the journal of a book has. */
export async function writersOf(
  db: Db,
  school: string,
  book: string,
): Promise<{ id: string; family: string; given: string; student: boolean }[]> {
  // From person to person by the index, not through all lines.
  const { rows } = await db.query<{ id: string; family: string; given: string; student: boolean }>(
    `with recursive who as (
       (select person from journal where school = $1 and book = $2 order by person limit 1)
       union all
       select (select j.person from journal j where j.school = $1 and j.book = $2 and j.person > w.person
         order by j.person limit 1) from who w where w.person is not null)
     select p.id, p.family, p.given, p.role = 'student' as student from who w join person p on p.school = $1 and p.id = w.person
     order by lower(p.family), lower(p.given)`,
    [school, book],
  );
  return rows;
}

/** Lines after one, in order; at most `limit`. */
export async function linesAfter(
  db: Db,
  school: string,
  book: string,
  seq: number,
  limit: number,
): Promise<(LineRow & { person: string; family: string; given: string; byStudent: boolean })[]> {
  const { rows } = await db.query<LineRow & { person: string; family: string; given: string; byStudent: boolean }>(
    `select j.batch, j.seq, j.kind, j.assessment, j.enrolment, j.was, j.becomes, j.person, p.family, p.given,
       p.role = 'student' as "byStudent"
     from journal j join person p on p.school = j.school and p.id = j.person
     where j.school = $1 and j.book = $2 and j.seq > $3 order by j.seq limit $4`,
    [school, book, seq, limit],
  );
  return rows;
}
