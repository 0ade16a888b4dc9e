import type { EntryContent } from '@core/book/change';
import type { Attempt, StatedState } from '@core/book/document';
import { canonical } from '@core/book/canonical';
import { sideBySide, type Db } from './database';

/** One cell as it is kept. `version` 0: nothing is kept for it. */
export interface CellRow {
  assessment: string;
  enrolment: string;
  version: number;
  content: EntryContent;
  handedIn: boolean[];
  out: 0 | 1 | 2;
}

/** Which cells: all of a book, of some students, or some cells by assessment and enrolment, one beside the other. */
export type Which = { all: true } | { enrolments: string[] } | { assessments: string[]; enrolments: string[] };

function filter(which: Which, alias: string): { where: string; values: unknown[] } {
  if ('all' in which) return { where: '', values: [] };
  if (!('assessments' in which)) return { where: `and ${alias}.enrolment = any($3)`, values: [which.enrolments] };
  return {
    where: `and (${alias}.assessment, ${alias}.enrolment) in (select * from unnest($3::text[], $4::text[]))`,
    values: [which.assessments, which.enrolments],
  };
}

/**
 * The rows of a query as arrays. PostgreSQL writes them as one JSON text: for the tens of thousands of cells of a large
 * book that is several times faster than reading them row by row.
 */
async function rowsAsJson<T>(db: Db, columns: string, rest: string, values: unknown[], order = ''): Promise<T[]> {
  const { rows } = await db.query<{ all: T[] | null }>(
    `select json_agg(json_build_array(${columns})${order === '' ? '' : ` order by ${order}`}) as all from ${rest}`,
    values,
  );
  return rows[0]?.all ?? [];
}

/** A moment as milliseconds since 1970: a double, which the database gives faster than text. */
const millis = (column: string): string => `date_part('epoch', ${column}) * 1000`;
const iso = (at: number): string => new Date(Math.round(at)).toISOString();

type EntryRow = [
  string,
  string,
  number | null,
  StatedState | null,
  number | null,
  number | null,
  number | null,
  number | null,
  boolean | null,
  number | null,
  string | null,
];
type AttemptRow = [string, string, number | null, string | null, number | null, boolean, number | null, boolean];

/** The cells that hold anything or were released, with what they hold and whether students see it as it is. */
export async function readCells(
  db: Db,
  school: string,
  book: string,
  which: Which = { all: true },
): Promise<CellRow[]> {
  const e = filter(which, 'e');
  const r = filter(which, 'r');
  const a = filter(which, 'a');
  const [entries, bare, attempts] = await sideBySide(db, [
    () =>
      rowsAsJson<EntryRow>(
        db,
        `e.assessment, e.enrolment, e.version, e.state, ${millis('e.due_at')}, ${millis('e.closes_at')}, e.late_allowances,
         e.set_points, e.protected, r.entry_version, case when r.entry_version <> e.version then r.entry end`,
        `entry e left join released_entry r on r.school = e.school and r.book = e.book and r.assessment = e.assessment
           and r.enrolment = e.enrolment and r.withdrawn_at is null
         where e.school = $1 and e.book = $2 ${e.where}`,
        [school, book, ...e.values],
      ),
    () =>
      rowsAsJson<EntryRow>(
        db,
        'r.assessment, r.enrolment, null, null, null, null, null, null, null, r.entry_version, r.entry',
        `released_entry r where r.school = $1 and r.book = $2 and r.withdrawn_at is null ${r.where}
           and not exists (select 1 from entry e where e.school = r.school and e.book = r.book
             and e.assessment = r.assessment and e.enrolment = r.enrolment)`,
        [school, book, ...r.values],
      ),
    () =>
      rowsAsJson<AttemptRow>(
        db,
        `a.assessment, a.enrolment, a.score, a.mark, ${millis('a.received_at')}, a.on_time, a.late_units, a.handed_in`,
        `attempt a where a.school = $1 and a.book = $2 ${a.where}`,
        [school, book, ...a.values],
        'a.number',
      ),
  ]);
  const byCell = new Map<string, Map<string, AttemptRow[]>>();
  for (const row of attempts) {
    let cells = byCell.get(row[0]);
    if (!cells) byCell.set(row[0], (cells = new Map()));
    const list = cells.get(row[1]);
    if (list) list.push(row);
    else cells.set(row[1], [row]);
  }
  return [...entries, ...bare].map((row) => toCell(row, byCell.get(row[0])?.get(row[1]) ?? []));
}

function toCell(row: EntryRow, attempts: AttemptRow[]): CellRow {
  const [
    assessment,
    enrolment,
    kept,
    state,
    dueAt,
    closesAt,
    lateAllowances,
    set,
    isProtected,
    releasedVersion,
    releasedEntry,
  ] = row;
  const content: EntryContent = {};
  if (state) content.state = state;
  if (attempts.length > 0) content.attempts = attempts.map(toAttempt);
  if (dueAt !== null) content.dueAt = iso(dueAt);
  if (closesAt !== null) content.closesAt = iso(closesAt);
  if (lateAllowances) content.lateAllowances = lateAllowances;
  if (set !== null) content.set = set;
  if (isProtected) content.protected = true;
  const version = kept ?? 0;
  const same = releasedVersion === version || (releasedEntry !== null && releasedEntry === canonical(content));
  return {
    assessment,
    enrolment,
    version,
    content,
    handedIn: attempts.map((a) => a[7]),
    out: releasedVersion === null ? 0 : same ? 1 : 2,
  };
}

function toAttempt([, , score, mark, receivedAt, onTime, lateUnits]: AttemptRow): Attempt {
  const attempt: Attempt = {};
  if (score !== null) attempt.score = score;
  if (mark !== null) attempt.mark = mark;
  if (receivedAt !== null) attempt.receivedAt = iso(receivedAt);
  if (onTime) attempt.onTime = true;
  if (lateUnits !== null) attempt.lateUnits = lateUnits;
  return attempt;
}

export interface CellWrite {
  assessment: string;
  enrolment: string;
  version: number;
  content: EntryContent;
  handedIn: boolean[];
}

/** Writes cells whole, attempts and all. The caller holds the book's lock and has compared versions. */
export async function writeCells(db: Db, school: string, book: string, cells: CellWrite[]): Promise<void> {
  const assessments = cells.map((c) => c.assessment);
  const enrolments = cells.map((c) => c.enrolment);
  await db.query(
    `insert into entry (school, book, assessment, enrolment, version, state, due_at, closes_at, late_allowances, set_points, protected)
     select $1, $2, * from unnest($3::text[], $4::text[], $5::int[], $6::text[], $7::timestamptz[], $8::timestamptz[], $9::int[],
       $10::numeric[], $11::boolean[])
     on conflict (school, book, assessment, enrolment) do update set version = excluded.version, state = excluded.state,
       due_at = excluded.due_at, closes_at = excluded.closes_at, late_allowances = excluded.late_allowances,
       set_points = excluded.set_points, protected = excluded.protected`,
    [
      school,
      book,
      assessments,
      enrolments,
      cells.map((c) => c.version),
      cells.map((c) => c.content.state ?? null),
      cells.map((c) => c.content.dueAt ?? null),
      cells.map((c) => c.content.closesAt ?? null),
      cells.map((c) => c.content.lateAllowances ?? null),
      cells.map((c) => c.content.set ?? null),
      cells.map((c) => c.content.protected === true),
    ],
  );
  const attempts = cells.flatMap((c) =>
    (c.content.attempts ?? []).map((a, i) => ({ c, a, number: i + 1, handedIn: c.handedIn[i] === true })),
  );
  await db.query(
    `delete from attempt a using unnest($3::text[], $4::text[], $5::int[]) as n (assessment, enrolment, kept)
     where a.school = $1 and a.book = $2 and a.assessment = n.assessment and a.enrolment = n.enrolment and a.number > n.kept`,
    [school, book, assessments, enrolments, cells.map((c) => c.content.attempts?.length ?? 0)],
  );
  if (attempts.length === 0) return;
  await db.query(
    `insert into attempt (school, book, assessment, enrolment, number, score, mark, received_at, on_time, late_units, handed_in)
     select $1, $2, * from unnest($3::text[], $4::text[], $5::int[], $6::numeric[], $7::text[], $8::timestamptz[], $9::boolean[],
       $10::int[], $11::boolean[])
     on conflict (school, book, assessment, enrolment, number) do update set score = excluded.score, mark = excluded.mark,
       received_at = excluded.received_at, on_time = excluded.on_time, late_units = excluded.late_units, handed_in = excluded.handed_in`,
    [
      school,
      book,
      attempts.map((x) => x.c.assessment),
      attempts.map((x) => x.c.enrolment),
      attempts.map((x) => x.number),
      attempts.map((x) => x.a.score ?? null),
      attempts.map((x) => x.a.mark ?? null),
      attempts.map((x) => x.a.receivedAt ?? null),
      attempts.map((x) => x.a.onTime === true),
      attempts.map((x) => x.a.lateUnits ?? null),
      attempts.map((x) => x.handedIn),
    ],
  );
}
