import type { BatchMade, IntakeWrite, ChangesMade, ChangesWrite, EntryState } from '@contract/scores';
import type pg from 'pg';
import { batchByOperation, findBatch, insertBatch } from '../../kernel/journal/sql/batches';
import { newId, transaction, type Db } from '../../kernel/database';
import { insertNotices } from '../notices';
import { putEnds } from './sql/exception-ends';
import { cellKeyOf, stateOf, type WantedCell } from '../../kernel/cells/cell';
import { type Who, lockBook, reserveJournalNumbers, operationDone } from '../../kernel/journal/sql/lines';
import { changeCells, currentCells } from './change-cells';
import { requireReasonFor } from './exception-reasons';

/** Brings many cells in as one batch, all or none. The same operation again changes nothing more. */
export async function applyIntake(
  pool: pg.Pool,
  who: Who,
  { operation, title, cells, reason }: IntakeWrite,
): Promise<BatchMade> {
  return transaction(pool, async (db) => {
    const seq = await lockBook(db, who.school, who.book);
    const done = await batchByOperation(db, who.school, who.book, operation);
    if (done) return { batch: done.id, cells: done.lines, seq };
    await requireReasonFor(db, who, cells, reason);
    const why = reason?.trim();
    const id = newId('b');
    const first = await reserveJournalNumbers(db, who.school, who.book, cells.length);
    await insertBatch(db, who, { id, kind: 'intake', title, cells: cells.length });
    await changeCells(db, who, first, cells, operation, { id, ...(why ? { reason: why } : {}) });
    return { batch: id, cells: cells.length, seq: first + cells.length - 1 };
  });
}

/** Changes cells together: a paste, a fill, a range that is cleared. All or none; put back as one. */
export async function applyChanges(pool: pg.Pool, who: Who, write: ChangesWrite): Promise<ChangesMade> {
  return transaction(pool, async (db) => {
    const seq = await lockBook(db, who.school, who.book);
    const done = await batchByOperation(db, who.school, who.book, write.operation);
    if (done) return { batch: done.id, seq, cells: await cellsOfBatch(db, who, done.id, seq) };
    await requireReasonFor(db, who, write.cells, write.reason);
    const id = newId('b');
    const first = await reserveJournalNumbers(db, who.school, who.book, write.cells.length);
    await insertBatch(db, who, { id, kind: write.kind, title: write.title ?? '', cells: write.cells.length });
    const reason = write.reason?.trim();
    const next = await changeCells(db, who, first, write.cells, write.operation, { id, ...(reason ? { reason } : {}) });
    if (write.ends) {
      const places = write.cells.map((c) => ({ enrolment: c.enrolment, place: c.assessment }));
      await putEnds(db, who, places, write.ends.kind, write.ends.at);
    }
    if (write.tell) {
      const students = [...new Set(write.cells.map((c) => c.enrolment))];
      await insertNotices(db, who.school, who.book, students, write.tell);
    }
    return {
      batch: id,
      seq: first + write.cells.length - 1,
      cells: next.map((c, i) => stateOf(c, first + i)),
    };
  });
}

/** Changes one cell in a way that may want a reason. */
export async function changeWithReason(
  pool: pg.Pool,
  who: Who,
  operation: string,
  wanted: WantedCell,
  reason: string,
): Promise<EntryState> {
  return transaction(pool, async (db) => {
    await lockBook(db, who.school, who.book);
    const done = await operationDone(db, who.school, who.book, operation);
    if (done !== null) {
      const now = await currentCells(db, who.school, who.book, [wanted]);
      return stateOf(now.get(cellKeyOf(wanted))!, done);
    }
    await requireReasonFor(db, who, [wanted], reason);
    const first = await reserveJournalNumbers(db, who.school, who.book, 1);
    const [is] = await changeCells(db, who, first, [wanted], operation, { id: newId('b'), reason: reason.trim() });
    return stateOf(is!, first);
  });
}

/** The cells of a batch as they are now. */
async function cellsOfBatch(db: Db, who: Who, batch: string, seq: number) {
  const places = (await findBatch(db, who.school, who.book, batch))!.lines.map((l) => ({
    assessment: l.assessment!,
    enrolment: l.enrolment!,
  }));
  const now = await currentCells(db, who.school, who.book, places);
  return places.map((p) => stateOf(now.get(cellKeyOf(p))!, seq));
}
