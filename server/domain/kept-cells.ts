import { readCells, type CellRow } from '../store/entries';
import type { BookRow } from '../store/books';
import { seesWhatIsKept, type Db } from '../store/database';

/** Cells held at most, over all books: some hundred megabytes. */
const MOST = 400_000;

const kept = new Map<string, { stamp: string; cells: CellRow[] }>();

/**
 * All cells of a book, which must not be changed by the caller. Every change of a book writes its row (the journal's next
 * number), so cells read at one stamp of the row are right for as long as the database gives that stamp: they are read
 * once and then kept, those of the book longest unused let go first. Any number of servers may do so; what is right is
 * asked of the database each time. Inside a transaction that writes nothing is kept: what it sees may never come to be.
 */
export async function cellsAt(db: Db, row: BookRow): Promise<CellRow[]> {
  const { school, id, stamp } = row;
  const key = `${school}/${id}`;
  const known = kept.get(key);
  kept.delete(key);
  if (known?.stamp === stamp) {
    kept.set(key, known);
    return known.cells;
  }
  const cells = await readCells(db, school, id);
  if (seesWhatIsKept(db)) {
    kept.set(key, { stamp, cells });
    letGo();
  }
  return cells;
}

function letGo(): void {
  let held = 0;
  for (const k of kept.values()) held += k.cells.length;
  for (const [key, k] of kept) {
    if (held <= MOST) return;
    kept.delete(key);
    held -= k.cells.length;
  }
}
