import type { Item } from '@core/book/document';
import type { Db } from './database';
import {
  asJson,
  cellParts,
  toCells,
  writeParts,
  type AttemptRow,
  type CellRow,
  type CellWrite,
  type EntryRow,
} from './entries';
import { linesPart, type JournalLine, type Who } from './journal';

/** All that is needed to change some cells of a book, as of one line of its journal. */
export interface ScoresSeen {
  seq: number;
  done: Map<string, number>;
  cells: CellRow[];
  assessments: Map<string, { title: string; more: Partial<Item> }>;
  students: Set<string>;
}

/** Reads it in one statement, so that all of it is of one moment. Null: there is no such book. */
export async function seeScores(
  db: Db,
  school: string,
  book: string,
  wanted: { operation: string; assessment: string; enrolment: string }[],
): Promise<ScoresSeen | null> {
  const assessments = wanted.map((w) => w.assessment);
  const enrolments = wanted.map((w) => w.enrolment);
  const parts = cellParts({ assessments, enrolments });
  const { rows } = await db.query<{
    seq: number;
    done: [string, number][] | null;
    entries: EntryRow[] | null;
    bare: EntryRow[] | null;
    attempts: AttemptRow[] | null;
    assessments: [string, string, string][] | null;
    students: string[] | null;
  }>({
    name: 'see-scores',
    text: `select b.seq,
        (select json_agg(json_build_array(x.operation, x.seq)) from unnest($5::text[]) as n (operation)
          cross join lateral (select j.operation, j.seq from journal j
            where j.school = $1 and j.book = $2 and j.operation = n.operation offset 0) x) as done,
        (${asJson(parts.entries)}) as entries,
        (${asJson(parts.bare)}) as bare,
        (${asJson(parts.attempts)}) as attempts,
        (select json_agg(json_build_array(a.id, a.title, a.more)) from assessment a
          where a.school = $1 and a.book = $2 and a.id = any($3) and a.archived_at is null) as assessments,
        (select json_agg(e.id) from enrolment e
          where e.school = $1 and e.book = $2 and e.id = any($4) and e.left_at is null) as students
      from book b where b.school = $1 and b.id = $2`,
    values: [school, book, assessments, enrolments, wanted.map((w) => w.operation)],
  });
  const row = rows[0];
  if (!row) return null;
  return {
    seq: row.seq,
    done: new Map(row.done ?? []),
    cells: toCells([...(row.entries ?? []), ...(row.bare ?? [])], row.attempts ?? []),
    assessments: new Map(
      (row.assessments ?? []).map(([id, title, more]) => [id, { title, more: JSON.parse(more) as Partial<Item> }]),
    ),
    students: new Set(row.students ?? []),
  };
}

/**
 * Writes cells with their journal lines in one statement, where the book's journal still ends with the line that was
 * seen; false, and nothing written, where somebody else has changed the book since.
 */
export async function keepScores(
  db: Db,
  who: Who,
  seq: number,
  cells: CellWrite[],
  lines: JournalLine[],
): Promise<boolean> {
  const held = 'exists (select 1 from held)';
  const written = writeParts(cells, 5, held);
  const journal = linesPart(who, lines, '', 5 + written.values.length, '$3::int', held);
  const named = Object.entries(written.parts).map(([name, sql]) => `${name} as (${sql})`);
  const { rows } = await db.query<{ kept: boolean }>({
    name: 'keep-scores',
    text: `with held as (update book set seq = seq + $4 where school = $1 and id = $2 and seq = $3 returning seq),
        ${named.join(', ')}, lines as (${journal.sql})
      select ${held} as kept`,
    values: [who.school, who.book, seq, lines.length, ...written.values, ...journal.values],
  });
  return rows[0]!.kept;
}
