import { cellKey } from '@contract/cell-key';
import type { CellChange } from '@core/book/change';
import { splitReason } from '@core/import/typed';
import type { ChangesWrite } from '@contract/scores';
import { newOperation } from './api';

/** One cell's change. */
export interface PendingCell {
  student: string;
  item: string;
  /** The version that the person saw. */
  version: number;
  change: CellChange;
  /** What was typed, for telling the person. */
  typed: string;
}

/**
 * A change, or several that are one (a paste, a fill), that the server has not kept yet. It waits in IndexedDB, so that
 * a reload or a dead line loses nothing.
 */
export interface PendingWrite {
  operation: string;
  book: string;
  kind: ChangesWrite['kind'];
  cells: PendingCell[];
  order: number;
}

export const keyOf = (c: { student: string; item: string }): string => cellKey(c.student, c.item);

/** All that waits, in the order it was made, and what waits for each cell. */
export class PendingQueues {
  private readonly all = new Map<string, PendingWrite>();
  private readonly byCell = new Map<string, PendingWrite[]>();

  has(operation: string): boolean {
    return this.all.has(operation);
  }

  values(): PendingWrite[] {
    return [...this.all.values()];
  }

  /** What waits for one cell, in the order made. */
  of(key: string): readonly PendingWrite[] {
    return this.byCell.get(key) ?? [];
  }

  /** How much waits for each cell for which something does. */
  counts(): Map<string, number> {
    return new Map([...this.byCell].map(([key, q]) => [key, q.length]));
  }

  /** First in line for each of its cells. */
  isFirst(w: PendingWrite): boolean {
    return w.cells.every((c) => this.byCell.get(keyOf(c))?.[0] === w);
  }

  add(w: PendingWrite): void {
    this.all.set(w.operation, w);
    for (const c of w.cells) {
      const queue = this.byCell.get(keyOf(c));
      if (queue) queue.push(w);
      else this.byCell.set(keyOf(c), [w]);
    }
  }

  remove(w: PendingWrite): void {
    this.all.delete(w.operation);
    for (const c of w.cells) {
      const queue = this.of(keyOf(c)).filter((x) => x !== w);
      if (queue.length > 0) this.byCell.set(keyOf(c), queue);
      else this.byCell.delete(keyOf(c));
    }
  }

  /** Others in the place of one, at its place in the order. */
  replace(w: PendingWrite, others: readonly PendingWrite[]): void {
    this.remove(w);
    for (const o of others) this.add(o);
    for (const c of w.cells) this.byCell.get(keyOf(c))?.sort((a, b) => a.order - b.order);
  }

  clear(): void {
    this.all.clear();
    this.byCell.clear();
  }
}

/** What waits without one of its cells. */
export const without = (w: PendingWrite, key: string): PendingWrite => ({
  ...w,
  operation: newOperation(),
  cells: w.cells.filter((c) => keyOf(c) !== key),
});

/** The reason that was typed behind a dash, as it is sent. */
export const reasonOf = (typed: string): { reason?: string } => {
  const { reason } = splitReason(typed);
  return reason === '' ? {} : { reason };
};

/** A change as an earlier version of the application kept it. */
export type Older = Omit<PendingWrite, 'cells' | 'kind'> & PendingCell;

/** The same as this version keeps it. */
export function renewed(w: PendingWrite | Older): PendingWrite {
  if ('cells' in w) return w;
  const { student, item, version, change, typed, ...rest } = w;
  return { ...rest, kind: 'change', cells: [{ student, item, version, change, typed }] };
}
