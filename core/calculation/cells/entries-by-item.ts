import type { Attempt, Entry } from '../../book/document';
import type { CompiledBook } from '../compiled/compiled';

/**
 * The entries that a compiled book holds, by student and item. Most are one attempt and nothing else: of these the
 * attempt alone is held, which is half the memory; {@link entryAt} gives the whole entry back.
 */
export type CompactEntries = (Entry | Attempt | undefined)[][];

/** The entry of a cell; undefined where there is none. */
export function entryAt(compiled: CompiledBook, s: number, i: number): Entry | undefined {
  const held = compiled.entries[s]![i];
  if (held === undefined || 'item' in held) return held;
  return { student: compiled.students[s]!.id, item: compiled.items[i]!.id, attempts: [held] };
}

/** Holds an entry, or lets one go (undefined). */
export function storeEntry(compiled: CompiledBook, s: number, i: number, entry: Entry | undefined): void {
  const row = compiled.entries[s]!;
  if (entry !== undefined) row[i] = isOneAttempt(entry) ? entry.attempts![0]! : entry;
  else if (row[i] !== undefined) row[i] = undefined;
}

function isOneAttempt(entry: Entry): boolean {
  if (entry.attempts?.length !== 1) return false;
  for (const key in entry) if (key !== 'student' && key !== 'item' && key !== 'attempts') return false;
  return true;
}

/** Every entry, student by student. */
export function entriesOf(compiled: CompiledBook): Entry[] {
  const entries: Entry[] = [];
  compiled.entries.forEach((row, s) =>
    row.forEach((held, i) => {
      if (held !== undefined) entries.push(entryAt(compiled, s, i)!);
    }),
  );
  return entries;
}
