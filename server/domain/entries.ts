import { canonical } from '@core/book/canonical';
import { changeCell, type CellChange, type EntryContent } from '@core/book/change';
import type { BatchMade, EntryState } from '@contract/entries';
import type pg from 'pg';
import { assessmentsOf, studentsOf, type AssessmentRow } from '../store/books';
import { newId, transaction, type Db } from '../store/database';
import { readCells, writeCells, type CellRow } from '../store/entries';
import * as journal from '../store/journal';
import { Refusal } from './problems';

export interface WantedCell {
  assessment: string;
  enrolment: string;
  version: number;
  change: CellChange;
}

const emptyCell = (c: WantedCell): CellRow => ({ ...c, version: 0, content: {}, handedIn: [], out: 0 });
const cellKey = (c: { assessment: string; enrolment: string }): string => `${c.assessment} ${c.enrolment}`;

/** Keeps one change of one cell, in one transaction with its journal line. The same operation again changes nothing more. */
export async function changeOneCell(
  pool: pg.Pool,
  who: journal.Who,
  operation: string,
  wanted: WantedCell,
): Promise<EntryState> {
  return transaction(pool, async (db) => {
    const first = await journal.lockBook(db, who.school, who.book, 1);
    const done = await journal.operationDone(db, who.school, who.book, operation);
    if (done !== null) {
      const [now] = await current(db, who, [wanted]);
      await db.query('update book set seq = seq - 1 where school = $1 and id = $2', [who.school, who.book]);
      return state(now!, done);
    }
    const [kept] = await changeCells(db, who, first, [wanted], (i) => (i === 0 ? operation : `${operation}.${i}`));
    return state(kept!, first);
  });
}

const state = (c: CellRow, seq: number): EntryState => ({
  assessment: c.assessment,
  enrolment: c.enrolment,
  version: c.version,
  entry: c.content,
  out: c.out,
  seq,
});

async function current(db: Db, who: journal.Who, cells: WantedCell[]): Promise<CellRow[]> {
  const rows = await readCells(db, who.school, who.book, {
    assessments: cells.map((c) => c.assessment),
    enrolments: cells.map((c) => c.enrolment),
  });
  const byKey = new Map(rows.map((r) => [cellKey(r), r]));
  return cells.map((c) => byKey.get(cellKey(c)) ?? emptyCell(c));
}

/** Changes cells under the book's lock: all, or none where one is stale or not possible. */
async function changeCells(
  db: Db,
  who: journal.Who,
  first: number,
  wanted: WantedCell[],
  operation: (i: number) => string,
  batch?: { id: string; reason?: string },
): Promise<CellRow[]> {
  const rows = await current(db, who, wanted);
  const stale = rows.filter((r, i) => r.version !== wanted[i]!.version);
  if (stale.length > 0) throw staleRefusal(stale, wanted.length);
  await requirePossible(db, who, wanted);
  const next = rows.map((r, i): CellRow => {
    const change = wanted[i]!.change;
    const content = changeCell(r.content, change);
    const handedIn = (content.attempts ?? []).map((_, n) => r.handedIn[n] === true);
    const out = r.out === 0 ? 0 : canonical(content) === canonical(r.content) ? r.out : 2;
    return { ...r, version: r.version + 1, content, handedIn, out };
  });
  await writeCells(db, who.school, who.book, next);
  await journal.writeLines(
    db,
    who,
    first,
    rows.map((r, i) => ({
      operation: operation(i),
      kind: 'cell',
      assessment: r.assessment,
      enrolment: r.enrolment,
      was: canonical(r.content),
      becomes: canonical(next[i]!.content),
    })),
    batch ? { batch: batch.id, ...(batch.reason ? { reason: batch.reason } : {}) } : {},
  );
  return next;
}

function staleRefusal(stale: CellRow[], all: number): Refusal {
  const now = stale.slice(0, 100).map((c) => ({
    assessment: c.assessment,
    enrolment: c.enrolment,
    version: c.version,
    entry: c.content,
    out: c.out,
  }));
  return new Refusal(
    'stale',
    all === 1
      ? 'Somebody else changed this cell after you saw it. Nothing of theirs was overwritten; choose which is right.'
      : `${stale.length} of these ${all} cells were changed by somebody else after you saw them. Nothing was brought in; look again.`,
    { now: all === 1 ? now[0] : now },
  );
}

/** Refuses cells of nobody or nothing, marks that the assessment does not have, and numbers with too many decimals. */
async function requirePossible(db: Db, who: journal.Who, wanted: WantedCell[]): Promise<void> {
  const assessments = new Map((await assessmentsOf(db, who.school, who.book)).map((a) => [a.id, a]));
  const students = new Set((await studentsOf(db, who.school, who.book)).map((s) => s.id));
  const faults: { at: string; says: string }[] = [];
  wanted.forEach((w, i) => {
    const at = wanted.length === 1 ? '/change' : `/cells/${i}/change`;
    const assessment = assessments.get(w.assessment);
    if (!assessment) faults.push({ at, says: 'There is no such assessment in this book.' });
    else if (!students.has(w.enrolment)) faults.push({ at, says: 'There is no such student in this book.' });
    else faults.push(...impossible(w.change, assessment, at));
  });
  if (faults.length > 0)
    throw new Refusal('bad-request', `${faults[0]!.says} Nothing was changed.`, { faults: faults.slice(0, 100) });
}

function impossible(change: CellChange, assessment: AssessmentRow, at: string): { at: string; says: string }[] {
  if (change.kind === 'mark' || (change.kind === 'put' && change.entry.attempts?.some((a) => a.mark !== undefined)))
    if (!assessment.more.marks) return [{ at, says: `${assessment.title} has no named marks.` }];
  if (change.kind === 'put' && change.entry.attempts?.some((a) => a.score !== undefined && a.mark !== undefined))
    return [{ at, says: 'An attempt has either a score or a mark, not both.' }];
  return [];
}

/** Brings many cells in as one batch, all or none. */
export async function applyIntake(
  pool: pg.Pool,
  who: journal.Who,
  operation: string,
  title: string,
  cells: WantedCell[],
): Promise<BatchMade> {
  const twice = cells.length - new Set(cells.map(cellKey)).size;
  if (twice > 0)
    throw new Refusal('bad-request', `${twice} cells are named twice in what was sent. Nothing was brought in.`);
  return transaction(pool, async (db) => {
    const first = await journal.lockBook(db, who.school, who.book, cells.length);
    const done = await journal.batchByOperation(db, who.school, who.book, operation);
    if (done) {
      await db.query('update book set seq = seq - $3 where school = $1 and id = $2', [
        who.school,
        who.book,
        cells.length,
      ]);
      return { batch: done.id, cells: done.cells, seq: first - 1 };
    }
    const id = newId('b');
    await journal.insertBatch(db, who, { id, kind: 'intake', title, cells: cells.length });
    await changeCells(db, who, first, cells, (i) => (i === 0 ? operation : `${operation}.${i}`), {
      id,
      reason: `brought in: ${title}`,
    });
    return { batch: id, cells: cells.length, seq: first + cells.length - 1 };
  });
}

/** Puts back everything a batch changed. Refused, with the cells named, where later changes stand on it. */
export async function undoBatch(pool: pg.Pool, who: journal.Who, operation: string, batch: string): Promise<BatchMade> {
  return transaction(pool, async (db) => {
    const lines = await journal.cellLinesOfBatch(db, who.school, who.book, batch);
    const first = await journal.lockBook(db, who.school, who.book, lines.length);
    const found = await journal.findBatch(db, who.school, who.book, batch);
    if (!found) throw new Refusal('not-found', 'There is no such intake in this book.');
    if (found.undone) throw new Refusal('cannot-undo', `“${found.title}” was put back already.`);
    const cells = lines.map((l) => ({ assessment: l.assessment, enrolment: l.enrolment }));
    const now = await current(
      db,
      who,
      cells.map((c) => ({ ...c, version: 0, change: { kind: 'clear' } })),
    );
    const later = now.filter((c, i) => canonical(c.content) !== lines[i]!.becomes);
    if (later.length > 0)
      throw new Refusal(
        'cannot-undo',
        `${later.length} of the ${lines.length} cells of “${found.title}” were changed afterwards, so nothing was put back. Those cells are listed.`,
        { now: later.slice(0, 100).map((c) => ({ assessment: c.assessment, enrolment: c.enrolment })) },
      );
    const id = newId('b');
    await journal.insertBatch(db, who, { id, kind: 'undo', title: found.title, cells: lines.length });
    await changeCells(
      db,
      who,
      first,
      now.map((c, i) => ({
        ...cells[i]!,
        version: c.version,
        change: { kind: 'put', entry: JSON.parse(lines[i]!.was) as EntryContent },
      })),
      (i) => (i === 0 ? operation : `${operation}.${i}`),
      { id, reason: `put back: ${found.title}` },
    );
    await journal.markUndone(db, who.school, who.book, batch, id);
    return { batch: id, cells: lines.length, seq: first + lines.length - 1 };
  });
}
