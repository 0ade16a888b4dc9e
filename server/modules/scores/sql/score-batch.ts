import type { RulesPart } from '@core/book/change';
import type { Item } from '@core/book/document';
import { marksOf, rulesAt } from '../../books';
import { grantsStillValid, type Grant } from '../../accounts';
import type { Db } from '../../../kernel/database';
import {
  asJson,
  cellParts,
  toCells,
  writeParts,
  type AttemptRow,
  type CellWrite,
  type EntryRow,
} from '../../../kernel/cells/sql';
import { linesPart, type JournalLine, type Who } from '../../../kernel/journal/sql/lines';
import { type WrittenScores, type ScoresSnapshot } from '../../../kernel/cells/cell-cache';

interface WantedScore {
  operation: string;
  assessment: string;
  enrolment: string;
}

/** What the database says of a text that is no JSON. */
const NO_JSON = '22P02';
/** The book's named marks by its rules, '' where it has none; null: these are no rules. */
const MARKS = `(select case when jsonb_typeof(r.rules #> '{tree,children}') = 'array' then coalesce(r.rules #>> '{rules,marks}', '') end
          from (select v.rules::jsonb as rules from rules_version v
            where v.school = $1 and v.book = $2 and v.version = b.rules_version offset 0) r)`;

/** Reads it in one statement, so that all of it is of one moment. Null: there is no such book. */
export async function readScores(
  db: Db,
  school: string,
  book: string,
  wanted: WantedScore[],
): Promise<ScoresSnapshot | null> {
  try {
    return await readScoresWith(db, school, book, wanted, MARKS);
  } catch (error) {
    if ((error as { code?: string }).code !== NO_JSON) throw error;
    return readScoresWith(db, school, book, wanted, 'null::text');
  }
}

async function readScoresWith(
  db: Db,
  school: string,
  book: string,
  wanted: WantedScore[],
  marksPart: string,
): Promise<ScoresSnapshot | null> {
  const assessments = wanted.map((w) => w.assessment);
  const enrolments = wanted.map((w) => w.enrolment);
  const parts = cellParts({ assessments, enrolments });
  const { rows } = await db.query<{
    seq: number;
    stamp: string;
    rulesVersion: number;
    done: [string, number, string, string | null][] | null;
    marks: string | null;
    entries: EntryRow[] | null;
    bare: EntryRow[] | null;
    attempts: AttemptRow[] | null;
    assessments: [string, string, string][] | null;
    students: string[] | null;
  }>({
    ...(marksPart === MARKS ? { name: 'see-scores' } : {}),
    text: `select b.seq, b.xmin::text as stamp, b.rules_version as "rulesVersion",
        (select json_agg(json_build_array(x.operation, x.seq, x.person, x.fingerprint)) from unnest($5::text[]) as n (operation)
          cross join lateral (select j.operation, j.seq, j.person, j.fingerprint from journal j
            where j.school = $1 and j.book = $2 and j.operation = n.operation offset 0) x) as done,
        (${asJson(parts.entries)}) as entries,
        (${asJson(parts.bare)}) as bare,
        (${asJson(parts.attempts)}) as attempts,
        (select json_agg(json_build_array(a.id, a.title, a.more)) from assessment a
          where a.school = $1 and a.book = $2 and a.id = any($3) and a.archived_at is null) as assessments,
        ${marksPart} as marks,
        (select json_agg(e.id) from enrolment e
          where e.school = $1 and e.book = $2 and e.id = any($4) and e.left_at is null) as students
      from book b where b.school = $1 and b.id = $2`,
    values: [school, book, assessments, enrolments, wanted.map((w) => w.operation)],
  });
  const row = rows[0];
  if (!row) return null;
  // Where the disk has damaged the rules the journal has them.
  const rules =
    row.marks === null
      ? await rulesAt(db, school, book, row.rulesVersion)
      : ((row.marks === '' ? {} : { rules: { marks: JSON.parse(row.marks) as unknown } }) as RulesPart);
  return {
    stamp: row.stamp,
    seq: row.seq,
    done: new Map((row.done ?? []).map(([id, seq, person, fingerprint]) => [id, { seq, person, fingerprint }])),
    cells: toCells([...(row.entries ?? []), ...(row.bare ?? [])], row.attempts ?? []),
    assessments: new Map(
      (row.assessments ?? []).map(([id, title, more]) => [
        id,
        { title, marks: marksOf(rules, { more: JSON.parse(more) as Partial<Item> }) },
      ]),
    ),
    students: new Set(row.students ?? []),
  };
}

/** Cells as they become, and their journal lines. `fewer`: a cell has fewer attempts than before. */
export interface ScoresWrite {
  changed: CellWrite[];
  lines: JournalLine[];
  fewer: boolean;
}

/**
 * Writes cells with their journal lines in one statement, where the book still is as it was seen; null, and nothing
 * written, where somebody else has changed it since, or one of `grants` would be let in no more.
 */
export async function writeScores(
  db: Db,
  who: Who,
  seen: WrittenScores,
  { changed, lines, fewer }: ScoresWrite,
  grants: Grant[] = [],
): Promise<WrittenScores | null> {
  const held = 'exists (select 1 from held)';
  const allowed = grantsStillValid(grants, 6);
  const first = 6 + allowed.values.length;
  const written = writeParts(changed, first, held, fewer);
  const journal = linesPart(who, lines, '', first + written.values.length, '$3::int', held);
  const named = Object.entries(written.parts).map(([name, sql]) => `${name} as (${sql})`);
  const { rows } = await db.query<WrittenScores>({
    name: fewer ? 'keep-scores-fewer' : 'keep-scores',
    text: `with held as (update book set seq = seq + $4 where school = $1 and id = $2 and seq = $3 and xmin = $5::xid
            and (archived_at is null or cardinality($6::text[]) = 0) and ${allowed.sql}
          returning seq, xmin::text as stamp),
        ${named.join(', ')}, lines as (${journal.sql})
      select seq, stamp from held`,
    values: [
      who.school,
      who.book,
      seen.seq,
      lines.length,
      seen.stamp,
      ...allowed.values,
      ...written.values,
      ...journal.values,
    ],
  });
  return rows[0] ?? null;
}
