import type { CellChange } from '@core/book/change';
import { makesException } from '@core/book/exceptions';
import { findBook, type BookRow } from '../books';
import { type Db } from '../../kernel/database';
import { cellKeyOf, type WantedCell } from '../../kernel/cells/cell';
import { Refusal } from '../../kernel/refusal';
import { type Who } from '../../kernel/journal/sql/lines';
import { currentCells } from './change-cells';

/** Refuses an exception without a reason where the school wants one. */
export function requireReason(row: Pick<BookRow, 'wantsReasons'>, makes: boolean, reason: string | undefined): void {
  if (makes && row.wantsReasons && !reason?.trim())
    throw new Refusal(
      'bad-request',
      'The school wants a reason for every exception. In a cell it follows a dash, as in “excused - ill”. Nothing was changed.',
      { errors: [{ pointer: '/reason', detail: 'the school wants a reason' }] },
    );
}

/** The same for changes of cells, which are looked at under the book's lock. */
export async function requireReasonFor(
  db: Db,
  who: Who,
  wanted: readonly WantedCell[],
  reason: string | undefined,
): Promise<void> {
  const row = (await findBook(db, who.school, who.book))!;
  if (!row.wantsReasons || reason?.trim()) return;
  const now = await currentCells(db, who.school, who.book, [...wanted]);
  requireReason(
    row,
    wanted.some((w) => makesException(now.get(cellKeyOf(w))!.content, w.change)),
    reason,
  );
}

/** Changes that may make an exception: the fast way of scores leaves them to the slower one. */
export const mayExcept = (change: CellChange): boolean =>
  !['score', 'mark', 'clear', 'received', 'late', 'late-at'].includes(change.kind);
