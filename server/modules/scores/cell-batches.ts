import type { BatchMade, IntakeWrite, ChangesMade, ChangesWrite, EntryState } from '@contract/scores';
import type pg from 'pg';
import { cellKeyOf, stateOf, type WantedCell } from '../../kernel/cells/cell';
import { commitBook, type Author } from '../books';
import { tellStudents } from '../notices';
import { openAgain } from './open-again';
import { Refusal } from '../../kernel/refusal';
import { changeCells, currentCells } from './change-cells';
import { requireReasonFor } from './exception-reasons';
import { putEnds } from './sql/exception-ends';

/** Brings many cells in as one batch, all or none. */
export function applyIntake(
  pool: pg.Pool,
  who: Author,
  { operation, title, cells, reason }: IntakeWrite,
): Promise<BatchMade> {
  return commitBook(pool, who, operation, async (db) => {
    await requireReasonFor(db, who, cells, reason);
    const { lines } = await changeCells(db, who, cells);
    return {
      lines,
      set: { kind: 'intake', title },
      reason,
      answer: ({ batch, last }) => ({ batch, cells: cells.length, seq: last }),
    };
  });
}

/** Changes cells together: a paste, a fill, a range that is cleared. All or none; put back as one. */
/** `unseen`: those that stand where nobody may look by name; they are changed as they are found. */
export function applyChanges(
  pool: pg.Pool,
  who: Author,
  write: ChangesWrite,
  unseen: ReadonlySet<WantedCell>,
): Promise<ChangesMade> {
  return commitBook(pool, who, write.operation, async (db, { role }) => {
    if ((write.tell || write.again) && role === 'marker')
      throw new Refusal('not-allowed', 'Only the teachers of this book write to its students. Nothing was changed.');
    await requireReasonFor(db, who, write.cells, write.reason);
    const now = await currentCells(db, who.school, who.book, [...unseen]);
    const wanted = write.cells.map((w) => (unseen.has(w) ? { ...w, version: now.get(cellKeyOf(w))!.version } : w));
    const { cells, lines } = await changeCells(db, who, wanted);
    if (write.again) await openAgain(db, who, write);
    else if (write.tell) {
      const students = [...new Set(write.cells.map((c) => c.enrolment))];
      const [assessment, ...others] = new Set(write.cells.map((c) => c.assessment));
      const about = assessment && others.length === 0 ? { assessment } : {};
      await tellStudents(db, who.school, who.book, students, { text: write.tell, ...about });
    }
    return {
      lines,
      set: { kind: write.kind, title: write.title ?? '' },
      reason: write.reason,
      async after() {
        const places = write.cells.map((c) => ({ enrolment: c.enrolment, place: c.assessment }));
        if (write.ends) await putEnds(db, who, places, write.ends.kind, write.ends.at);
      },
      answer: ({ batch, first, last }) => ({ batch, seq: last, cells: cells.map((c, i) => stateOf(c, first + i)) }),
    };
  });
}

/** Changes one cell in a way that may want a reason. */
export function changeWithReason(
  pool: pg.Pool,
  who: Author,
  operation: string,
  wanted: WantedCell,
  reason: string,
): Promise<EntryState> {
  return commitBook(pool, who, operation, async (db) => {
    await requireReasonFor(db, who, [wanted], reason);
    const { cells, lines } = await changeCells(db, who, [wanted]);
    return { lines, reason, answer: ({ first }) => stateOf(cells[0]!, first) };
  });
}
