import type { EntryContent } from '@core/book/change';
import type { Attempt, StatedState } from '@core/book/document';
import { canonical } from '@core/book/canonical';
import type { Db } from './database';

/** One cell as it is kept. `version` 0: nothing is kept for it. */
export interface CellRow {
  assessment: string;
  enrolment: string;
  version: number;
  content: EntryContent;
  handedIn: boolean[];
  out: 0 | 1 | 2;
}

interface EntryColumns {
  assessment: string;
  enrolment: string;
  version: number | null;
  state: StatedState | null;
  dueAt: string | null;
  closesAt: string | null;
  lateAllowances: number | null;
  set: string | null;
  protected: boolean | null;
  releasedVersion: number | null;
  releasedEntry: string | null;
}

interface AttemptColumns {
  assessment: string;
  enrolment: string;
  score: string | null;
  mark: string | null;
  receivedAt: string | null;
  onTime: boolean;
  lateUnits: number | null;
  handedIn: boolean;
}

/** Which cells: all of a book, of some students, or some cells by assessment and enrolment, one beside the other. */
export type Which = { all: true } | { enrolments: string[] } | { assessments: string[]; enrolments: string[] };

const key = (r: { assessment: string; enrolment: string }): string => `${r.assessment} ${r.enrolment}`;

function filter(which: Which, alias: string): { where: string; values: unknown[] } {
  if ('all' in which) return { where: '', values: [] };
  if (!('assessments' in which)) return { where: `and ${alias}.enrolment = any($3)`, values: [which.enrolments] };
  return {
    where: `and (${alias}.assessment, ${alias}.enrolment) in (select * from unnest($3::text[], $4::text[]))`,
    values: [which.assessments, which.enrolments],
  };
}

/** The cells that hold anything or were released, with what they hold and whether students see it as it is. */
export async function readCells(
  db: Db,
  school: string,
  book: string,
  which: Which = { all: true },
): Promise<CellRow[]> {
  const e = filter(which, 'e');
  const entries = await db.query<EntryColumns>(
    `select e.assessment, e.enrolment, e.version, e.state, e.due_at as "dueAt", e.closes_at as "closesAt",
       e.late_allowances as "lateAllowances", e.set_points as "set", e.protected,
       r.entry_version as "releasedVersion", case when r.entry_version <> e.version then r.entry end as "releasedEntry"
     from entry e left join released_entry r on r.school = e.school and r.book = e.book and r.assessment = e.assessment
       and r.enrolment = e.enrolment and r.withdrawn_at is null
     where e.school = $1 and e.book = $2 ${e.where}`,
    [school, book, ...e.values],
  );
  const r = filter(which, 'r');
  const bare = await db.query<EntryColumns>(
    `select r.assessment, r.enrolment, r.entry_version as "releasedVersion", r.entry as "releasedEntry"
     from released_entry r
     where r.school = $1 and r.book = $2 and r.withdrawn_at is null ${r.where}
       and not exists (select 1 from entry e where e.school = r.school and e.book = r.book
         and e.assessment = r.assessment and e.enrolment = r.enrolment)`,
    [school, book, ...r.values],
  );
  const a = filter(which, 'a');
  const attempts = await db.query<AttemptColumns>(
    `select a.assessment, a.enrolment, a.score, a.mark, a.received_at as "receivedAt", a.on_time as "onTime",
       a.late_units as "lateUnits", a.handed_in as "handedIn"
     from attempt a where a.school = $1 and a.book = $2 ${a.where} order by a.number`,
    [school, book, ...a.values],
  );
  const byCell = new Map<string, AttemptColumns[]>();
  for (const row of attempts.rows) {
    const k = key(row);
    const list = byCell.get(k);
    if (list) list.push(row);
    else byCell.set(k, [row]);
  }
  return [...entries.rows, ...bare.rows].map((row) => toCell(row, byCell.get(key(row)) ?? []));
}

function toCell(row: EntryColumns, attempts: AttemptColumns[]): CellRow {
  const content: EntryContent = {};
  if (row.state) content.state = row.state;
  if (attempts.length > 0) content.attempts = attempts.map(toAttempt);
  if (row.dueAt) content.dueAt = row.dueAt;
  if (row.closesAt) content.closesAt = row.closesAt;
  if (row.lateAllowances) content.lateAllowances = row.lateAllowances;
  if (row.set != null) content.set = Number(row.set);
  if (row.protected) content.protected = true;
  const version = row.version ?? 0;
  const same = row.releasedVersion === version || row.releasedEntry === canonical(content);
  return {
    assessment: row.assessment,
    enrolment: row.enrolment,
    version,
    content,
    handedIn: attempts.map((a) => a.handedIn),
    out: row.releasedVersion == null ? 0 : same ? 1 : 2,
  };
}

function toAttempt(a: AttemptColumns): Attempt {
  const attempt: Attempt = {};
  if (a.score !== null) attempt.score = Number(a.score);
  if (a.mark !== null) attempt.mark = a.mark;
  if (a.receivedAt !== null) attempt.receivedAt = a.receivedAt;
  if (a.onTime) attempt.onTime = true;
  if (a.lateUnits !== null) attempt.lateUnits = a.lateUnits;
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
