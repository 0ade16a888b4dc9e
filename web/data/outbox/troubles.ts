import { signal } from '@angular/core';
import type { LevelDraft } from '@contract/work/marking';
import type { EntryState } from '@contract/scores';
import type { ApiProblem } from '../api';
import { keyOf, type PendingCell, type PendingWrite } from './pending-writes';

export type Trouble =
  /** `draft`, `message`: of levels, what they are given now, and what is to be chosen. */
  | { kind: 'clash'; waiting: PendingCell; theirs: EntryState; draft?: LevelDraft; message?: string }
  | { kind: 'refused'; waiting: PendingCell; message: string };

/** What waits for the person to choose, by its cell. */
export class Troubles {
  readonly byCell = signal<ReadonlyMap<string, Trouble>>(new Map());

  add(troubles: readonly Trouble[]): void {
    this.byCell.update((t) => new Map([...t, ...troubles.map((x) => [keyOf(x.waiting), x] as const)]));
  }

  forget(key: string): void {
    this.byCell.update((t) => new Map([...t].filter(([k]) => k !== key)));
  }

  clear(): void {
    this.byCell.set(new Map());
  }

  /** A write with a cell among them: it is not sent. */
  isStuck(w: PendingWrite): boolean {
    const troubles = this.byCell();
    return w.cells.some((c) => troubles.has(keyOf(c)));
  }
}

/** The cells of a write that the server says it cannot keep, each with its sentence; all of them where it names none. */
export function refusedCells(w: PendingWrite, problem: ApiProblem): Map<PendingCell, string> {
  const named = problem.errors.flatMap((f) => {
    const cell = w.cells[Number(/^\/cells\/(\d+)\//.exec(f.pointer)?.[1] ?? NaN)];
    return cell ? [[cell, f.detail] as const] : [];
  });
  return new Map(named.length > 0 ? named : w.cells.map((c) => [c, problem.detail] as const));
}
