import { counted } from '@core/words/count';
import type { EntryContent } from '@core/book/change';
import { soundContent, validateCell } from '@core/book/checks/validate-cell';
import type { BookTransaction } from '../../kernel/book-transaction';
import type { Db } from '../../kernel/database';
import { readCells, writeCells, type CellRow } from '../../kernel/cells/sql';
import { type ScoredAssessment } from '../../kernel/cells/cell-cache';
import { Refusal } from '../../kernel/refusal';
import { assessmentsNamed, enrolledAmong, findBook, marksOf, rulesAt } from '../books';
import { type LineContent, type Who } from '../../kernel/journal/sql/lines';
import {
  type WantedCell,
  type CellPlace,
  cellKeyOf,
  emptyCell,
  stateOf,
  nextCell,
  cellLine,
} from '../../kernel/cells/cell';

/** What is kept of these cells now, by {@link cellKeyOf}. Cells that hold nothing are there with version 0. */
export async function currentCells(
  db: Db,
  school: string,
  book: string,
  places: CellPlace[],
): Promise<Map<string, CellRow>> {
  const rows = await readCells(db, school, book, {
    assessments: places.map((c) => c.assessment),
    enrolments: places.map((c) => c.enrolment),
  });
  const byKey = new Map(places.map((c) => [cellKeyOf(c), emptyCell(c)]));
  for (const r of rows) byKey.set(cellKeyOf(r), r);
  return byKey;
}

/** What is known of a book that cells of it are changed in. */
export interface ScoredBook {
  assessments: ReadonlyMap<string, ScoredAssessment>;
  students: ReadonlySet<string>;
}

/** What becomes of one cell: what it is next, or why not. */
export type CellPlan = { next: CellRow } | { stale: CellRow } | { fault: string };

/** The one definition of what a change of a cell does, whether it comes alone or among others. */
export function planCell(w: WantedCell, now: CellRow, { assessments, students }: ScoredBook): CellPlan {
  const assessment = assessments.get(w.assessment);
  if (!assessment) return { fault: 'There is no such assessment in this book.' };
  if (!students.has(w.enrolment)) return { fault: 'There is no such student in this book.' };
  if (now.version !== w.version) return { stale: now };
  // What cannot be read goes with the first change of it; the journal keeps what it was.
  const next = nextCell({ ...now, content: soundContent(now.content, assessment.marks) }, w.change);
  const fault = faultOf(next.content, assessment);
  return fault === null ? { next } : { fault };
}

function faultOf(content: EntryContent, { title, marks }: ScoredAssessment): string | null {
  const mark = content.attempts?.find((a) => a.mark !== undefined && !marks?.has(a.mark))?.mark;
  if (mark === undefined) return validateCell(content, marks);
  return marks === null ? `${title} has no named marks.` : `“${mark}” is none of the marks of ${title}.`;
}

async function scoredBook(db: Db, { school, book }: Who, places: CellPlace[]): Promise<ScoredBook> {
  const named = await assessmentsNamed(db, school, book, [...new Set(places.map((w) => w.assessment))]);
  const rules = await rulesAt(db, school, book, (await findBook(db, school, book))!.rulesVersion);
  return {
    assessments: new Map(named.map((a) => [a.id, { title: a.title, marks: marksOf(rules, a) }])),
    students: await enrolledAmong(db, school, book, [...new Set(places.map((w) => w.enrolment))]),
  };
}

export function staleRefusal(stale: CellRow[], all: number): Refusal {
  const now = stale.slice(0, 10_000).map((c) => stateOf(c, 0));
  return new Refusal(
    'stale',
    all === 1
      ? 'Somebody else changed this cell after you saw it. Nothing of theirs was overwritten; choose which is right.'
      : `${stale.length} of these ${all} cells were changed by somebody else after you saw them. Nothing was changed; look again.`,
    { now: all === 1 ? now[0] : now },
  );
}

/**
 * Changes cells of a book that is being committed: all, or none where one is stale, not possible or named twice. Gives
 * them as they are then, and their lines for the journal.
 */
export async function changeCells(
  db: BookTransaction,
  who: Who,
  wanted: WantedCell[],
): Promise<{ cells: CellRow[]; lines: LineContent[] }> {
  const kept = await currentCells(db, who.school, who.book, wanted);
  const rows = wanted.map((w) => kept.get(cellKeyOf(w))!);
  const twice = wanted.length - kept.size;
  if (twice > 0)
    throw new Refusal(
      'bad-request',
      `${counted(twice, 'cell is', 'cells are')} named twice in what was sent. Nothing was changed.`,
    );
  const known = await scoredBook(db, who, wanted);
  const plans = rows.map((r, i) => planCell(wanted[i]!, r, known));
  const errors = plans.flatMap((p, i) =>
    'fault' in p ? [{ pointer: wanted.length === 1 ? '/change' : `/cells/${i}/change`, detail: p.fault }] : [],
  );
  if (errors.length > 0)
    throw new Refusal('bad-request', `${errors[0]!.detail} Nothing was changed.`, { errors: errors.slice(0, 100) });
  const stale = plans.flatMap((p) => ('stale' in p ? [p.stale] : []));
  if (stale.length > 0) throw staleRefusal(stale, wanted.length);
  const next = plans.flatMap((p) => ('next' in p ? [p.next] : []));
  await writeCells(db, who.school, who.book, next);
  return { cells: next, lines: rows.map((r, i) => cellLine(r, next[i]!)) };
}
