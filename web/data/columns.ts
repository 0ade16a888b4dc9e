import { cellKey } from '@contract/wire/cell-key';
import type { EntryState } from '@contract/scores';
import { tickOf } from '@core/statistics/ticks';
import { FLAG, STATES, type CellColumns, type RowUpdate, type Standing } from '../worker/protocol';

/** Whether students see a cell: 0 not, 1 as it is, 2 an earlier form of it. */
export const outOf = (flags: number): 0 | 1 | 2 => (flags & FLAG.released ? 1 : flags & FLAG.changed ? 2 : 0);

/** Scores that are drafts among the cells from one place to another. */
export function draftsIn(cells: CellColumns, from: number, to: number): number {
  let drafts = 0;
  for (let i = from; i < to; i++) if (tickOf(STATES[cells.state[i]!]!, outOf(cells.flags[i]!)) === 'draft') drafts++;
  return drafts;
}

/** Whether a cell's work waits to be marked: nothing is scored yet, or a new attempt lies over the score. */
export const waitsToBeMarked = (cells: CellColumns, at: number): boolean =>
  STATES[cells.state[at]!] === 'pending' || (cells.flags[at]! & FLAG.again) !== 0;

/** Cells that wait to be marked among those from one place to another. */
export function waitingIn(cells: CellColumns, from: number, to: number): number {
  let waiting = 0;
  for (let i = from; i < to; i++) if (waitsToBeMarked(cells, i)) waiting++;
  return waiting;
}

/** How many cells of each assessment wait to be marked; `items` in the order of the columns, `hidden` what waits where names are. */
export function waitingByItem(
  cells: CellColumns,
  items: readonly string[],
  hidden: ReadonlyMap<string, number>,
): Map<string, number> {
  const waiting = new Map(items.map((item) => [item, hidden.get(item) ?? 0]));
  for (let i = 0; i < cells.state.length; i++)
    if (waitsToBeMarked(cells, i)) {
      const item = items[i % items.length]!;
      waiting.set(item, waiting.get(item)! + 1);
    }
  return waiting;
}

/** What is told of a cell is newer than what is shown: a later version, or released since. */
export const isNewer = (cells: CellColumns, at: number, told: { version: number; releaseState: number }): boolean => {
  const version = cells.version[at] ?? 0;
  return told.version > version || (told.version === version && told.releaseState !== outOf(cells.flags[at] ?? 0));
};

const LOOKS = ['state', 'flags', 'counts', 'marked', 'taken', 'due'] as const;

/** A row from the worker shows nothing that its place in the columns does not show: at most its versions are others. */
export function looksTheSame(
  cells: CellColumns,
  row: RowUpdate,
  from: number,
  standing: Standing | undefined,
): boolean {
  if (standing === undefined || !sameStanding(standing, row.standing)) return false;
  return LOOKS.every((key) => {
    const shown = cells[key];
    return row.cells[key].every((value, i) => Object.is(value, shown[from + i]));
  });
}

const sameStanding = (a: Standing, b: Standing): boolean =>
  (Object.keys(b) as (keyof Standing)[]).every((key) => Object.is(a[key], b[key]));

/** Of what was kept of cells the last of each, where it is later than a line of the journal. */
export function laterThan(states: readonly EntryState[], seq: number): EntryState[] {
  const last = new Map<string, EntryState>();
  for (const s of states) {
    const key = cellKey(s.enrolment, s.assessment);
    if (s.seq > seq && s.version >= (last.get(key)?.version ?? 0)) last.set(key, s);
  }
  return [...last.values()];
}
