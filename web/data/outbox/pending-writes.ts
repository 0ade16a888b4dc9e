import { cellKey } from '@contract/wire/cell-key';
import type { CellChange } from '@core/book/change';
import { splitReason } from '@core/import/typed';
import type { LevelsMade, LevelsWrite } from '@contract/work/marking';
import type { ChangesMade, ChangesWrite, EntryState, EntryWrite } from '@contract/scores';
import { newOperation } from '../api';

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
  /** Levels of a rubric, of which the one cell's score follows. */
  levels?: PendingLevels;
  order: number;
}

/** Criteria of one piece of work that are given something, each with the version that was seen. */
export type PendingLevels = Pick<LevelsWrite, 'work' | 'rubric' | 'marks' | 'sum'>;

/** What the version of a criterion's mark is known by. */
export const markKeyOf = (c: { student: string; item: string }, work: string, criterion: string): string =>
  `${cellKey(c.student, c.item)} ${work} ${criterion}`;

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

/** Cells that are kept together. */
export const isSet = (w: PendingWrite): boolean => w.cells.length > 1;

/** What waits without one of its cells. */
export const without = (w: PendingWrite, key: string): PendingWrite => ({
  ...w,
  operation: newOperation(),
  cells: w.cells.filter((c) => keyOf(c) !== key),
});

/**
 * The same on the versions of one's own last writes, which may be newer than what the sheet showed when it was typed.
 * That is what is sent from then on: the same operation has to be the same to the server.
 */
export function onVersions(w: PendingWrite, own: ReadonlyMap<string, number>): PendingWrite {
  const version = (c: PendingCell): number => Math.max(own.get(keyOf(c)) ?? 0, c.version);
  const levels = w.levels && levelsOnVersions(w.levels, w.cells[0]!, own);
  if (levels === w.levels && w.cells.every((c) => version(c) === c.version)) return w;
  return { ...w, ...(levels && { levels }), cells: w.cells.map((c) => ({ ...c, version: version(c) })) };
}

function levelsOnVersions(l: PendingLevels, at: PendingCell, own: ReadonlyMap<string, number>): PendingLevels {
  const version = (m: PendingLevels['marks'][number]): number =>
    Math.max(own.get(markKeyOf(at, l.work, m.criterion)) ?? 0, m.version);
  if (l.marks.every((m) => version(m) === m.version)) return l;
  return { ...l, marks: l.marks.map((m) => ({ ...m, version: version(m) })) };
}

/** What the server kept, cell by cell, in what it answered. */
export function statesOf(answer: EntryState | ChangesMade | LevelsMade): EntryState[] {
  return 'draft' in answer ? [answer.cell] : 'cells' in answer ? answer.cells : [answer];
}

/** How a change is sent: one cell to its own address, levels to theirs, several cells as one set. */
export function requestOf(w: PendingWrite): {
  method: string;
  path: string;
  body: EntryWrite | ChangesWrite | LevelsWrite;
} {
  const { operation, book, kind, cells } = w;
  const [only] = cells;
  if (w.levels)
    return {
      method: 'PUT',
      path: `/books/${book}/levels/${only!.item}/${only!.student}`,
      body: { operation, ...w.levels, cell: only!.version },
    };
  if (cells.length === 1)
    return {
      method: 'PUT',
      path: `/books/${book}/entries/${only!.item}/${only!.student}`,
      body: { operation, version: only!.version, change: only!.change, ...reasonOf(only!.typed) } as EntryWrite,
    };
  return {
    method: 'POST',
    path: `/books/${book}/changes`,
    body: {
      operation,
      kind,
      // What is typed for a whole selection has one reason.
      ...(kind === 'change' ? reasonOf(only!.typed) : {}),
      cells: cells.map(({ item, student, version, change }) => ({
        assessment: item,
        enrolment: student,
        version,
        change,
      })),
    } as ChangesWrite,
  };
}

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
