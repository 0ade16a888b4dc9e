import { counted } from '@core/words/count';
import { type CellChange } from '@core/book/change';
import type { Db } from '../../kernel/database';
import { readCells, writeCells, type CellRow } from '../../kernel/cells/sql';
import { Refusal } from '../../kernel/refusal';
import { type AssessmentRow, assessmentsNamed, enrolledAmong } from '../books';
import { type Who, writeLines } from '../../kernel/journal/sql/lines';
import {
  type WantedCell,
  type CellPlace,
  cellKeyOf,
  emptyCell,
  stateOf,
  nextCell,
  cellLine,
  operationOf,
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

/** Why each change is not possible; null where it is. */
export async function impossibleOf(
  db: Db,
  who: { school: string; book: string },
  wanted: WantedCell[],
): Promise<(string | null)[]> {
  const assessments = new Map(
    (await assessmentsNamed(db, who.school, who.book, [...new Set(wanted.map((w) => w.assessment))])).map((a) => [
      a.id,
      a,
    ]),
  );
  const students = await enrolledAmong(db, who.school, who.book, [...new Set(wanted.map((w) => w.enrolment))]);
  return wanted.map((w) => whyNot(w, assessments, students));
}

/** Why a change is not possible in a book that has these assessments and students; null where it is. */
export function whyNot(
  w: WantedCell,
  assessments: ReadonlyMap<string, Pick<AssessmentRow, 'title' | 'more'>>,
  students: ReadonlySet<string>,
): string | null {
  const assessment = assessments.get(w.assessment);
  if (!assessment) return 'There is no such assessment in this book.';
  if (!students.has(w.enrolment)) return 'There is no such student in this book.';
  return impossible(w.change, assessment);
}

function impossible(change: CellChange, assessment: Pick<AssessmentRow, 'title' | 'more'>): string | null {
  if (change.kind === 'mark' || (change.kind === 'put' && change.entry.attempts?.some((a) => a.mark !== undefined)))
    if (!assessment.more.marks) return `${assessment.title} has no named marks.`;
  if (change.kind === 'put' && change.entry.attempts?.some((a) => a.score !== undefined && a.mark !== undefined))
    return 'An attempt has either a score or a mark, not both.';
  return null;
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
 * Changes cells under the book's lock, which the caller holds with the journal's lines reserved from `first`: all, or
 * none where one is stale, not possible or named twice.
 */
export async function changeCells(
  db: Db,
  who: Who,
  first: number,
  wanted: WantedCell[],
  operation: string,
  batch?: { id: string; reason?: string },
): Promise<CellRow[]> {
  const kept = await currentCells(db, who.school, who.book, wanted);
  const rows = wanted.map((w) => kept.get(cellKeyOf(w))!);
  const twice = wanted.length - kept.size;
  if (twice > 0)
    throw new Refusal(
      'bad-request',
      `${counted(twice, 'cell is', 'cells are')} named twice in what was sent. Nothing was changed.`,
    );
  const stale = rows.filter((r, i) => r.version !== wanted[i]!.version);
  if (stale.length > 0) throw staleRefusal(stale, wanted.length);
  const errors = (await impossibleOf(db, who, wanted)).flatMap((detail, i) =>
    detail === null ? [] : [{ pointer: wanted.length === 1 ? '/change' : `/cells/${i}/change`, detail }],
  );
  if (errors.length > 0)
    throw new Refusal('bad-request', `${errors[0]!.detail} Nothing was changed.`, { errors: errors.slice(0, 100) });
  const next = rows.map((r, i) => nextCell(r, wanted[i]!.change));
  await writeCells(db, who.school, who.book, next);
  await writeLines(
    db,
    who,
    first,
    rows.map((r, i) => cellLine(operationOf(operation, i), r, next[i]!)),
    batch ? { batch: batch.id, ...(batch.reason ? { reason: batch.reason } : {}) } : {},
  );
  return next;
}
