import type { BookTransaction } from '../book-transaction';
import type { EntryContent } from '@core/book/change';
import type { Attempt, StatedState } from '@core/book/document';
import { canonical } from '@core/book/canonical';
import { runConcurrently, type Db } from '../database';

/** One cell as it is kept. `version` 0: nothing is kept for it. */
export interface CellRow {
  assessment: string;
  enrolment: string;
  version: number;
  content: EntryContent;
  handedIn: boolean[];
  releaseState: 0 | 1 | 2;
  /** What students see of it as canonical text, where it was written before what is kept now. */
  released?: string;
}

/** Which cells: all of a book, of some students, or some cells by assessment and enrolment, one beside the other. */
export type Which = { all: true } | { enrolments: string[] } | { assessments: string[]; enrolments: string[] };

/**
 * Where the rows of a table come from, as `alias`. Cells that are named are looked up one by one by the table's key:
 * left to itself the database goes through a whole book for a few of them while it has no statistics yet.
 */
function source(table: string, alias: string, which: Which): { from: string; values: unknown[] } {
  const own = `x.school = $1 and x.book = $2`;
  if ('all' in which) return { from: `(select * from ${table} x where ${own}) ${alias}`, values: [] };
  if (!('assessments' in which))
    return {
      from: `(select * from ${table} x where ${own} and x.enrolment = any($3)) ${alias}`,
      values: [which.enrolments],
    };
  return {
    from: `(select distinct * from unnest($3::text[], $4::text[])) n (assessment, enrolment) cross join lateral
      (select * from ${table} x where ${own} and x.assessment = n.assessment and x.enrolment = n.enrolment offset 0) ${alias}`,
    values: [which.assessments, which.enrolments],
  };
}

/** A moment as milliseconds since 1970: a double, which the database gives faster than text. */
const millis = (column: string): string => `date_part('epoch', ${column}) * 1000`;
const iso = (at: number): string => new Date(Math.round(at)).toISOString();

export type EntryRow = [
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
export type AttemptRow = [string, string, number | null, string | null, number | null, boolean, number | null, boolean];

/** A part of a query that gives rows as arrays: the columns, where they come from, in which order. */
interface Part {
  columns: string;
  from: string;
  order?: string;
}

/** The three queries that cells are made of: entries, releases of cells that hold nothing any more, attempts. */
export function cellParts(which: Which): { entries: Part; bare: Part; attempts: Part; values: unknown[] } {
  const e = source('entry', 'e', which);
  const r = source('released_entry', 'r', which);
  const a = source('attempt', 'a', which);
  return {
    entries: {
      columns: `e.assessment, e.enrolment, e.version, e.state, ${millis('e.due_at')}, ${millis('e.closes_at')}, e.late_allowances,
        e.set_points, e.protected, r.entry_version, case when r.entry_version <> e.version then r.entry end`,
      from: `${e.from} left join released_entry r on r.school = e.school and r.book = e.book and r.assessment = e.assessment
        and r.enrolment = e.enrolment and r.withdrawn_at is null`,
    },
    bare: {
      columns: 'r.assessment, r.enrolment, null, null, null, null, null, null, null, r.entry_version, r.entry',
      from: `${r.from} where r.withdrawn_at is null
        and not exists (select 1 from entry e where e.school = r.school and e.book = r.book
          and e.assessment = r.assessment and e.enrolment = r.enrolment)`,
    },
    attempts: {
      columns: `a.assessment, a.enrolment, a.score, a.mark, ${millis('a.received_at')}, a.on_time, a.late_units, a.handed_in`,
      from: a.from,
      order: 'a.number',
    },
    values: e.values,
  };
}

/** One JSON text of all rows; null where there is none. */
export const asJson = ({ columns, from, order }: Part): string =>
  `select json_agg(json_build_array(${columns})${order === undefined ? '' : ` order by ${order}`}) as all from ${from}`;

/**
 * The rows of a query as arrays. PostgreSQL writes them as one JSON text: for the tens of thousands of cells of a large
 * book that is several times faster than reading them row by row.
 */
async function rowsAsJson<T>(db: Db, part: Part, values: unknown[]): Promise<T[]> {
  return (await db.query<{ all: T[] | null }>(asJson(part), values)).rows[0]?.all ?? [];
}

/** The cells that hold anything or were released, with what they hold and whether students see it as it is. */
export async function readCells(
  db: Db,
  school: string,
  book: string,
  which: Which = { all: true },
): Promise<CellRow[]> {
  const parts = cellParts(which);
  const values = [school, book, ...parts.values];
  const [entries, bare, attempts] = await runConcurrently(db, [
    () => rowsAsJson<EntryRow>(db, parts.entries, values),
    () => rowsAsJson<EntryRow>(db, parts.bare, values),
    () => rowsAsJson<AttemptRow>(db, parts.attempts, values),
  ]);
  return toCells([...entries, ...bare], attempts);
}

/** Cells from the rows of {@link cellParts}. */
export function toCells(entries: EntryRow[], attempts: AttemptRow[]): CellRow[] {
  const byCell = new Map<string, Map<string, AttemptRow[]>>();
  for (const row of attempts) {
    let cells = byCell.get(row[0]);
    if (!cells) byCell.set(row[0], (cells = new Map()));
    const list = cells.get(row[1]);
    if (list) list.push(row);
    else cells.set(row[1], [row]);
  }
  return entries.map((row) => toCell(row, byCell.get(row[0])?.get(row[1]) ?? []));
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
    releaseState: releasedVersion === null ? 0 : same ? 1 : 2,
    ...(releasedEntry !== null && { released: releasedEntry }),
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

/** The values of {@link writeParts}, from `first` on. */
function writeValues(cells: CellWrite[]): unknown[] {
  const attempts = cells.flatMap((c) =>
    (c.content.attempts ?? []).map((a, i) => ({ c, a, number: i + 1, handedIn: c.handedIn[i] === true })),
  );
  return [
    cells.map((c) => c.assessment),
    cells.map((c) => c.enrolment),
    cells.map((c) => c.version),
    cells.map((c) => c.content.state ?? null),
    cells.map((c) => c.content.dueAt ?? null),
    cells.map((c) => c.content.closesAt ?? null),
    cells.map((c) => c.content.lateAllowances ?? null),
    cells.map((c) => c.content.set ?? null),
    cells.map((c) => c.content.protected === true),
    attempts.map((x) => x.c.assessment),
    attempts.map((x) => x.c.enrolment),
    attempts.map((x) => x.number),
    attempts.map((x) => x.a.score ?? null),
    attempts.map((x) => x.a.mark ?? null),
    attempts.map((x) => x.a.receivedAt ?? null),
    attempts.map((x) => x.a.onTime === true),
    attempts.map((x) => x.a.lateUnits ?? null),
    attempts.map((x) => x.handedIn),
    cells.map((c) => c.content.attempts?.length ?? 0),
  ];
}

/**
 * The three writings of whole cells as parts of one statement, with their values from `first` on: entries, attempts that
 * are gone (where any can be: `fewer`), attempts. Without `condition` nothing is written.
 */
export function writeParts(
  cells: CellWrite[],
  first: number,
  condition = 'true',
  fewer = true,
): { parts: Record<string, string>; values: unknown[] } {
  const p = (i: number): string => `$${first + i}`;
  const values = writeValues(cells);
  return {
    values: fewer ? values : values.slice(0, -1),
    parts: {
      entries: `insert into entry (school, book, assessment, enrolment, version, state, due_at, closes_at, late_allowances, set_points, protected)
        select $1, $2, x.* from unnest(${p(0)}::text[], ${p(1)}::text[], ${p(2)}::int[], ${p(3)}::text[], ${p(4)}::timestamptz[],
          ${p(5)}::timestamptz[], ${p(6)}::int[], ${p(7)}::numeric[], ${p(8)}::boolean[]) x where ${condition}
        on conflict (school, book, assessment, enrolment) do update set version = excluded.version, state = excluded.state,
          due_at = excluded.due_at, closes_at = excluded.closes_at, late_allowances = excluded.late_allowances,
          set_points = excluded.set_points, protected = excluded.protected`,
      ...(fewer && {
        gone: `delete from attempt where ${condition} and ctid = any(array(
          select x.ctid from unnest(${p(0)}::text[], ${p(1)}::text[], ${p(18)}::int[]) as n (assessment, enrolment, kept)
            cross join lateral (select a.ctid from attempt a where a.school = $1 and a.book = $2
              and a.assessment = n.assessment and a.enrolment = n.enrolment and a.number > n.kept offset 0) x))`,
      }),
      attempts: `insert into attempt (school, book, assessment, enrolment, number, score, mark, received_at, on_time, late_units, handed_in)
        select $1, $2, x.* from unnest(${p(9)}::text[], ${p(10)}::text[], ${p(11)}::int[], ${p(12)}::numeric[], ${p(13)}::text[],
          ${p(14)}::timestamptz[], ${p(15)}::boolean[], ${p(16)}::int[], ${p(17)}::boolean[]) x where ${condition}
        on conflict (school, book, assessment, enrolment, number) do update set score = excluded.score, mark = excluded.mark,
          received_at = excluded.received_at, on_time = excluded.on_time, late_units = excluded.late_units, handed_in = excluded.handed_in`,
    },
  };
}

/** Writes cells whole, attempts and all. The caller holds the book's lock and has compared versions. */
export async function writeCells(db: BookTransaction, school: string, book: string, cells: CellWrite[]): Promise<void> {
  const { parts, values } = writeParts(cells, 3);
  const named = Object.entries(parts).map(([name, sql]) => `${name} as (${sql})`);
  await db.query(`with ${named.join(', ')} select`, [school, book, ...values]);
}
