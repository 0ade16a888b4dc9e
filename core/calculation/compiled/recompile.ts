import { canonical } from '../../book/canonical';
import type { Attempt, BookDocument, Entry } from '../../book/document';
import { fillBlanks, KIND, valueByBank, valueCell } from '../cells/cells';
import { compileTree, type CompiledBook, type CompiledItem } from './compile';
import { entryAt, type CompactEntries } from '../cells/entries-by-item';

/**
 * A compiled book under other rules and settings of its items, with the same students and entries (those that
 * `compiled` holds now): what the same document compiled anew would be. Only items whose value could be another are
 * valued again. Entries are shared with `compiled`: the result is for working out, not for changing.
 */
export function recompile(compiled: CompiledBook, book: Omit<BookDocument, 'students' | 'entries'>): CompiledBook {
  const next = compileTree({ ...book, students: compiled.students, entries: [] });
  const width = compiled.items.length;
  const sameMoment =
    next.asOf === compiled.asOf &&
    next.closing === compiled.closing &&
    next.lateAllowanceMillis === compiled.lateAllowanceMillis &&
    next.book.timeZone === compiled.book.timeZone &&
    leftOutKey(next) === leftOutKey(compiled);
  const sources = next.items.map((item) => {
    const node = compiled.nodes.get(item.id);
    return node?.type === 'item' ? node : null;
  });
  const inPlace = sources.every((from, i) => from?.index === i) && next.items.length === width;
  next.entries = inPlace
    ? compiled.entries
    : compiled.entries.map((row): CompactEntries[number] =>
        sources.map((from) => (from ? row[from.index] : undefined)),
      );
  // What nothing is changed of lies at the same places mostly: it is taken over as a whole.
  if (inPlace) copyAll(compiled, next);
  const late: LateColumn[] = [];
  next.items.forEach((item, i) => {
    const from = sources[i] ?? null;
    if (from === null || !sameMoment || valueKey(item) !== valueKey(from)) return valueColumn(next, item);
    if (!inPlace) copyColumn(compiled, from.index, next, i);
    if (lateKey(item) !== lateKey(from)) late.push({ index: i, due: usualDue(item) });
  });
  valueLate(next, late);
  valueBanks(next);
  return next;
}

/** What a bank gives hangs on all that came in under its rule, so it is always spent anew. */
function valueBanks(next: CompiledBook): void {
  const lates = new Set(next.items.flatMap(({ late }) => (late?.bank ? [late] : [])));
  for (const late of lates)
    next.entries.forEach((row, s) => {
      if (late.bank!.items.some(({ index }) => row[index] !== undefined)) valueByBank(next, s, late);
    });
}

/** What variants leave out: the cells of it are worth nothing. */
const leftOutKey = ({ variants }: CompiledBook): string =>
  canonical(variants.slice(1).map(({ name, leftOut }) => [name, [...leftOut].map((n) => n.id).sort()]));

/** Values every cell of an item. */
function valueColumn(next: CompiledBook, item: CompiledItem): void {
  fillBlanks(next, item);
  for (let s = 0; s < next.students.length; s++)
    if (next.entries[s]![item.index] !== undefined) valueCell(next, s, item.index, entryAt(next, s, item.index));
}

/** An item whose lateness goes by another rule than before, with its due date where nobody has an earlier one. */
interface LateColumn {
  index: number;
  due: string | null;
}

const usualDue = ({ sectionDates, source: { due } }: CompiledItem): string | null =>
  sectionDates === null && due && isUsual(due) ? due : null;

/** Values the cells that another rule for lateness may be something to; student by student, as they lie in memory. */
function valueLate(next: CompiledBook, columns: LateColumn[]): void {
  next.entries.forEach((row, s) => {
    for (const { index, due } of columns) {
      const held = row[index];
      if (held === undefined) continue;
      // An attempt that is held alone has no date of its own; an entry is looked at as a whole.
      const { receivedAt, lateUnits, attempts } = held as Attempt & Partial<Entry>;
      if (attempts === undefined && lateUnits === undefined && (receivedAt === undefined || notAfter(receivedAt, due)))
        continue;
      valueCell(next, s, index, entryAt(next, s, index));
    }
  });
}

/** A moment in UTC as it is written mostly, of which an earlier one is an earlier text of the same length. */
const isUsual = (moment: string): boolean =>
  (moment.length === 20 || moment.length === 24) && moment.endsWith('Z') && moment[10] === 'T';

/** True where a moment is surely not after another: what came then is late by no rule. Extra time only adds to it. */
const notAfter = (moment: string, due: string | null): boolean =>
  due !== null && moment.length === due.length && moment <= due && isUsual(moment);

const lateKey = (item: CompiledItem): string => canonical(item.late?.rule ?? null);

/** Everything but lateness that the value of an item's cells hangs on (contract, sections 2 to 4). */
function valueKey(item: CompiledItem): string {
  const { points, due, closes, sectionDates, curve, attempts } = item.source;
  return canonical([
    { points, due, closes, sectionDates, curve: curve ?? null, attempts: attempts ?? null },
    item.optional,
    item.isCount,
    item.blank,
    [...(item.marks ?? [])].map(([label, worth]) => [label, String(worth.n), String(worth.d)]),
  ]);
}

function copyAll(from: CompiledBook, to: CompiledBook): void {
  to.cells.kind.set(from.cells.kind);
  to.cells.earned.set(from.cells.earned);
  to.cells.exact = new Map(from.cells.exact);
}

function copyColumn(from: CompiledBook, i: number, to: CompiledBook, j: number): void {
  for (let s = 0; s < to.students.length; s++) copyCell(from, s * from.cells.width + i, to, s * to.cells.width + j);
}

function copyCell(from: CompiledBook, was: number, to: CompiledBook, is: number): void {
  const kind = from.cells.kind[was]!;
  if (to.cells.kind[is]! & KIND.isExact) to.cells.exact.delete(is);
  to.cells.kind[is] = kind;
  to.cells.earned[is] = from.cells.earned[was]!;
  if (kind & KIND.isExact) to.cells.exact.set(is, from.cells.exact.get(was)!);
}
