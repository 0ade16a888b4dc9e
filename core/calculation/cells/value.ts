import type { ItemState } from '../../book/document';
import type { Fraction } from '../../exact/fraction';
import { attemptsValue, type AttemptsValue } from './attempts';
import { spendBank } from './bank';
import { earnedAt, KIND, stateOf } from './cells';
import type { CompiledBook, CompiledItem } from '../compiled/compiled';
import { effectiveDates, isPastDue } from './dates';
import { entryAt } from './entries-by-item';

/** What an item is worth to a student (contract, section 2): `earned` points, or null where it is skipped. */
export interface CellValue {
  state: ItemState;
  earned: Fraction | null;
  /** Open in the sense of section 7. */
  open: boolean;
  protected: boolean;
  /** Of an item that is open: which end it is taken at. */
  taken?: 'low' | 'high';
}

/** The same with how it came about. Dates in milliseconds. */
export interface ItemValue extends CellValue {
  due: number | null;
  closes: number | null;
  pastDue: boolean;
  attempts: AttemptsValue | null;
  /** Which line of the blank rule gave the value, where one did. */
  blankLine: 'beforeDue' | 'afterDue' | null;
}

/** The values of one student, by item number, from the cells. */
export function valuesOf(compiled: CompiledBook, s: number): CellValue[] {
  const { cells } = compiled;
  return compiled.items.map((_, i) => cellValue(compiled, s * cells.width + i));
}

function cellValue(compiled: CompiledBook, at: number): CellValue {
  const kind = compiled.cells.kind[at]!;
  return {
    state: stateOf(kind),
    earned: earnedAt(compiled.cells, at),
    open: (kind & KIND.open) !== 0,
    protected: (kind & KIND.protected) !== 0,
  };
}

/** One item of one student with its dates, attempts and blank rule, from the entry that stands in the cell. */
export function itemValue(compiled: CompiledBook, item: CompiledItem, s: number): ItemValue {
  const entry = entryAt(compiled, s, item.index);
  const { due, closes } = effectiveDates(compiled, item, s, entry);
  const value = cellValue(compiled, s * compiled.cells.width + item.index);
  const scored = value.state === 'scored';
  const bank = item.late?.bank ? (spendBank(compiled, s, item.late).get(item.index) ?? 0) : 0;
  return {
    ...value,
    due,
    closes,
    pastDue: isPastDue(compiled, item, s, entry, due),
    attempts: scored ? attemptsValue(compiled.book.timeZone, item, { due, closes, bank }, entry!.attempts!) : null,
    blankLine: value.state === 'missing' ? 'afterDue' : value.state === 'blank' ? 'beforeDue' : null,
  };
}
