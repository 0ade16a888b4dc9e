import { canonical } from '../book/canonical';
import type { BookDocument } from '../book/document';
import { fillBlanks, KIND, valueCell } from './cells';
import { compileTree, type CompiledBook, type CompiledItem } from './compile';
import { entryAt, type HeldEntries } from './held-entries';

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
    next.book.timeZone === compiled.book.timeZone;
  const sources = next.items.map((item) => {
    const node = compiled.nodes.get(item.id);
    return node?.type === 'item' ? node : null;
  });
  const inPlace = sources.every((from, i) => from?.index === i) && next.items.length === width;
  next.held = inPlace
    ? compiled.held
    : compiled.held.map((row): HeldEntries[number] => sources.map((from) => (from ? row[from.index] : undefined)));
  next.items.forEach((item, i) => {
    const from = sources[i] ?? null;
    const same = from !== null && sameMoment && valueKey(item) === valueKey(from);
    if (same && lateKey(item) === lateKey(from)) return copyColumn(compiled, from.index, next, i);
    fillBlanks(next, item);
    for (let s = 0; s < next.students.length; s++) {
      const held = next.held[s]![i];
      if (held === undefined) continue;
      // Another rule for lateness is nothing to what was never late.
      if (same && !('item' in held) && held.receivedAt === undefined && held.lateUnits === undefined)
        copyCell(compiled, s * width + from.index, next, s * next.cells.width + i);
      else valueCell(next, s, i, entryAt(next, s, i));
    }
  });
  return next;
}

const lateKey = (item: CompiledItem): string => canonical(item.late?.rule ?? null);

/** Everything but lateness that the value of an item's cells hangs on (contract, sections 2 to 4). */
function valueKey(item: CompiledItem): string {
  const { points, due, closes, sectionDates, curve, attempts } = item.source;
  return canonical([
    { points, due, closes, sectionDates, curve: curve ?? null, attempts: attempts ?? null },
    item.optional,
    item.blank,
    [...(item.marks ?? [])].map(([label, worth]) => [label, String(worth.n), String(worth.d)]),
  ]);
}

function copyColumn(from: CompiledBook, i: number, to: CompiledBook, j: number): void {
  for (let s = 0; s < to.students.length; s++) copyCell(from, s * from.cells.width + i, to, s * to.cells.width + j);
}

function copyCell(from: CompiledBook, was: number, to: CompiledBook, is: number): void {
  const kind = from.cells.kind[was]!;
  if (to.cells.kind[is]! & KIND.apart) to.cells.exact.delete(is);
  to.cells.kind[is] = kind;
  to.cells.earned[is] = from.cells.earned[was]!;
  if (kind & KIND.apart) to.cells.exact.set(is, from.cells.exact.get(was)!);
}
