import type { Entry, ItemState } from '../../book/document';
import { fromNumber, toNumber, ZERO, type Fraction } from '../../exact/fraction';
import { attemptsValue, isScored } from './attempts';
import type { CompiledBook, CompiledItem } from '../compiled/compiled';
import { spendBank } from './bank';
import { dueOf, isPastDue, lateTerms } from './dates';
import { entryAt, storeEntry } from './entries-by-item';
import type { CompiledLate } from './lateness';
import { quickValue } from './quick-value';
import { variantAt } from '../compiled/variants';

/**
 * The value of every cell (student s, item i) at s × width + i: its state and flags in `kind`, and the points earned as
 * the nearest double, NaN where it is skipped. A value of at most four decimals is the shortest decimal of its double,
 * so nothing is lost; any other stands in `exact` as well.
 */
export interface Cells {
  width: number;
  kind: Uint8Array;
  earned: Float64Array;
  exact: Map<number, Fraction>;
}

/** The states by their number, the lowest three bits of `kind`. */
export const STATE_NAMES: readonly ItemState[] = [
  'blank',
  'awaiting',
  'missing',
  'pending',
  'scored',
  'set',
  'excused',
  'left-out',
];
const [BLANK, AWAITING, MISSING, PENDING, SCORED, SET, EXCUSED, LEFT_OUT] = [0, 1, 2, 3, 4, 5, 6, 7];

export const KIND = {
  state: 7,
  skipped: 8,
  /** Open in the sense of section 7. */
  open: 16,
  protected: 32,
  /** Its exact value stands apart. */
  isExact: 64,
} as const;

export const stateOf = (kind: number): ItemState => STATE_NAMES[kind & KIND.state]!;

/** True for a cell that `whenEmpty: "zero"` takes as nothing, if it is skipped (section 5, step 6). */
export const isFillable = (kind: number): boolean => {
  const state = kind & KIND.state;
  return state === BLANK || state === MISSING;
};

/** True for a piece that is taken as nothing once another of its extra-credit group is done, if it is skipped. */
export const isUndone = (kind: number): boolean => {
  const state = kind & KIND.state;
  return state !== EXCUSED && state !== LEFT_OUT;
};

/** True for work that counts as done in its extra-credit group. */
export const isDone = (kind: number): boolean => {
  const state = kind & KIND.state;
  return state === SCORED || state === SET;
};

/** Points earned, exact; null where the cell is skipped. */
export function earnedAt(cells: Cells, at: number): Fraction | null {
  const kind = cells.kind[at]!;
  if (kind & KIND.skipped) return null;
  return kind & KIND.isExact ? cells.exact.get(at)! : fromNumber(cells.earned[at]!);
}

/** Cells that nothing is written into yet; every one of them is to be. */
export function emptyCells(compiled: CompiledBook): Cells {
  const width = compiled.items.length;
  const size = compiled.students.length * width;
  return { width, kind: new Uint8Array(size), earned: new Float64Array(size), exact: new Map() };
}

/** Cells of a book with no entries yet. */
export function makeCells(compiled: CompiledBook): Cells {
  compiled.cells = emptyCells(compiled);
  for (const item of compiled.items) fillBlanks(compiled, item);
  return compiled.cells;
}

/** Writes the blank of every student into the cells of one item. */
export function fillBlanks(compiled: CompiledBook, item: CompiledItem): void {
  const { cells } = compiled;
  // Blanks of students without dates of their own are all alike.
  const usual = blankKind(compiled, item, isPastDueUsually(compiled, item));
  const earned = usual & KIND.skipped ? null : blankEarned(item, usual);
  compiled.students.forEach((student, s) => {
    const at = s * cells.width + item.index;
    if (isLeftOut(compiled, s, item)) return write(cells, at, LEFT_OUT! | KIND.skipped, null);
    const alone = compiled.extraMillis[s] !== 0 || (item.sectionDates !== null && student.section !== undefined);
    if (alone) putBlank(compiled, item, s, undefined, at, 0);
    else write(cells, at, usual, earned);
  });
}

const isLeftOut = (compiled: CompiledBook, s: number, item: CompiledItem): boolean =>
  compiled.variantOf[s] !== 0 && variantAt(compiled, s).leftOut.has(item);

function isPastDueUsually(compiled: CompiledBook, item: CompiledItem): boolean {
  if (compiled.closing) return true;
  const closes = item.closes !== null && item.due !== null ? Math.max(item.closes, item.due) : item.closes;
  const limit = item.blank.missingAfter === 'closes' ? (closes ?? item.due) : item.due;
  return limit !== null && compiled.asOf > limit;
}

function blankKind(compiled: CompiledBook, item: CompiledItem, pastDue: boolean): number {
  if (pastDue) return MISSING! | (item.afterDue === null ? KIND.skipped : 0);
  const skipped = isNeverOpen(item) || item.blank.beforeDue === 'skip';
  return BLANK! | (skipped ? KIND.skipped : 0) | (isNeverOpen(item) ? 0 : KIND.open);
}

/** Blanks of it are skipped, and it is never open. */
const isNeverOpen = (item: CompiledItem): boolean => item.optional || item.isCount;

const blankEarned = (item: CompiledItem, kind: number): Fraction =>
  (kind & KIND.state) === MISSING ? item.afterDue! : ZERO;

function putBlank(
  compiled: CompiledBook,
  item: CompiledItem,
  s: number,
  entry: Entry | undefined,
  at: number,
  flags: number,
): void {
  const kind = blankKind(compiled, item, isPastDue(compiled, item, s, entry, dueOf(compiled, item, s, entry)));
  write(compiled.cells, at, kind | flags, kind & KIND.skipped ? null : blankEarned(item, kind));
}

/**
 * Puts an entry into its cell, or takes it out (undefined), and values the cell by the first line of section 2's table
 * that applies. The entry is kept as it is given; it must have passed the check. Where the item's late rule has a bank
 * the student's other cells under that rule are valued with it.
 */
export function putEntry(compiled: CompiledBook, s: number, i: number, entry: Entry | undefined): void {
  storeEntry(compiled, s, i, entry);
  const { late } = compiled.items[i]!;
  if (late?.bank) valueByBank(compiled, s, late);
  else valueCell(compiled, s, i, entry);
}

/** Puts all entries of a book that has none yet. */
export function putEntries(compiled: CompiledBook, entries: readonly Entry[]): CompiledBook {
  const items = new Map(compiled.items.map((item) => [item.id, item.index]));
  const byBank = new Map<CompiledLate, Set<number>>();
  let student = '';
  let s = -1;
  for (const entry of entries) {
    // Entries mostly come student by student.
    if (entry.student !== student) s = compiled.studentIndex.get((student = entry.student))!;
    const i = items.get(entry.item)!;
    const { late } = compiled.items[i]!;
    if (!late?.bank) {
      putEntry(compiled, s, i, entry);
      continue;
    }
    // What the bank gives hangs on all that came in.
    storeEntry(compiled, s, i, entry);
    const waiting = byBank.get(late);
    if (waiting) waiting.add(s);
    else byBank.set(late, new Set([s]));
  }
  for (const [late, students] of byBank) for (const at of students) valueByBank(compiled, at, late);
  return compiled;
}

/** Values all cells of a student whose late rule this is. */
export function valueByBank(compiled: CompiledBook, s: number, late: CompiledLate): void {
  const given = spendBank(compiled, s, late);
  for (const { index } of late.bank!.items)
    valueCell(compiled, s, index, entryAt(compiled, s, index), given.get(index) ?? 0);
}

/** Values a cell by an entry without keeping the entry. `bank`: the late units that the bank gives it. */
export function valueCell(compiled: CompiledBook, s: number, i: number, entry: Entry | undefined, bank = 0): void {
  const { cells } = compiled;
  const item = compiled.items[i]!;
  const at = s * cells.width + i;
  if (isLeftOut(compiled, s, item)) return write(cells, at, LEFT_OUT! | KIND.skipped, null);
  if (entry === undefined) return putBlank(compiled, item, s, entry, at, 0);
  const flags = entry.protected === true ? KIND.protected : 0;
  const open = flags | KIND.skipped | (isNeverOpen(item) ? 0 : KIND.open);
  if (entry.state === 'excused') return write(cells, at, EXCUSED! | KIND.skipped | flags, null);
  if (entry.set !== undefined) return write(cells, at, SET! | flags, fromNumber(entry.set));
  const attempts = entry.attempts;
  if (attempts !== undefined && attempts.length > 0) {
    if (!attempts.some(isScored)) return write(cells, at, PENDING! | open, null);
    const terms = lateTerms(compiled, item, s, entry, bank);
    const quick = quickValue(compiled, item, terms, attempts);
    if (quick >= 0) {
      if (cells.kind[at]! & KIND.isExact) cells.exact.delete(at);
      cells.kind[at] = SCORED! | flags;
      cells.earned[at] = quick;
      return;
    }
    return write(cells, at, SCORED! | flags, attemptsValue(compiled.book.timeZone, item, terms, attempts).value);
  }
  if (entry.state === 'missing')
    return write(cells, at, MISSING! | flags | (item.afterDue === null ? KIND.skipped : 0), item.afterDue);
  if (entry.state === 'awaiting') return write(cells, at, AWAITING! | open, null);
  putBlank(compiled, item, s, entry, at, flags);
}

function write(cells: Cells, at: number, kind: number, earned: Fraction | null): void {
  if (cells.kind[at]! & KIND.isExact) cells.exact.delete(at);
  const decimal = earned === null || isDecimal(earned);
  if (!decimal) cells.exact.set(at, earned);
  cells.kind[at] = decimal ? kind : kind | KIND.isExact;
  cells.earned[at] = earned === null ? NaN : toNumber(earned);
}

/** At most four decimals and a magnitude of at most 10^9: what a document's number can be. */
const isDecimal = (a: Fraction): boolean =>
  typeof a.n === 'number' && typeof a.d === 'number' && 10_000 % a.d === 0 && a.n <= a.d * 1e9;

/** Values a cell as scored with so many points of at most four decimals, whatever its entry says. */
export function supposeScore(cells: Cells, at: number, points: number): void {
  cells.exact.delete(at);
  cells.kind[at] = SCORED! | (cells.kind[at]! & KIND.protected);
  cells.earned[at] = points;
}

/** What a cell is worth now, for putting it back after supposing something else. */
export function remember(cells: Cells, at: number): () => void {
  const [kind, earned, exact] = [cells.kind[at]!, cells.earned[at]!, cells.exact.get(at)];
  return () => {
    cells.kind[at] = kind;
    cells.earned[at] = earned;
    if (exact === undefined) cells.exact.delete(at);
    else cells.exact.set(at, exact);
  };
}
