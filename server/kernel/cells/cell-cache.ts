import { seesWhatIsKept, type Db } from '../database';
import { readCells, type CellRow } from './sql';
import { cellKey, emptyCell, type CellPlace } from './cell';
import type { Item } from '@core/book/document';
/** Cells held at most, over all books: some hundred megabytes. */
const MOST = 400_000;

/** What is known of one book at one stamp of its row. */
interface Kept {
  stamp: string;
  seq: number;
  /** All of its cells, or null where only some are known or some have changed since the list was made. */
  list: CellRow[] | null;
  /** The same by {@link cellKey}; null until one is asked for. Cells that hold nothing may be among them. */
  byKey: Map<string, CellRow> | null;
  /** A cell that is not in `byKey` holds nothing. */
  whole: boolean;
  assessments: ScoresSeen['assessments'];
  students: Set<string>;
}

/** A book's row, as far as it tells one state of the book from another. */
export interface BookStamp {
  school: string;
  id: string;
  stamp: string;
  seq: number;
}

const kept = new Map<string, Kept>();
const keyOf = (school: string, book: string): string => `${school}/${book}`;

/**
 * All cells of a book, which must not be changed by the caller. Every change of a book writes its row (the journal's next
 * number), so cells read at one stamp of the row are right for as long as the database gives that stamp: they are read
 * once and then kept, those of the book longest unused let go first. Any number of servers may do so; what is right is
 * asked of the database each time. Inside a transaction that writes nothing is kept: what it sees may never come to be.
 */
export async function cellsAt(db: Db, { school, id, stamp, seq }: BookStamp): Promise<CellRow[]> {
  const key = keyOf(school, id);
  const known = used(key);
  if (known?.stamp === stamp && known.whole) return listOf(known);
  const cells = await readCells(db, school, id);
  // While they were read somebody may have gone on from what is known here; that is worth more than an earlier moment.
  if (seesWhatIsKept(db) && (kept.get(key)?.seq ?? -1) <= seq)
    keep(key, { stamp, seq, list: cells, byKey: null, whole: true, assessments: new Map(), students: new Set() });
  return cells;
}

function listOf(known: Kept): CellRow[] {
  return (known.list ??= [...known.byKey!.values()].filter((c) => c.version > 0 || c.out !== 0));
}

/**
 * What is needed to change some cells, as far as it is known without asking; null where it is not. Whether it is still
 * right is for the writing to ask, by the stamp; which operations were done before is not known.
 */
export function knownOf(school: string, book: string, wanted: CellPlace[]): ScoresSeen | null {
  const known = used(keyOf(school, book));
  if (!known) return null;
  const byKey = byKeyOf(known);
  const cells: CellRow[] = [];
  for (const w of wanted) {
    const cell = byKey.get(cellKey(w));
    if ((!cell && !known.whole) || !known.assessments.has(w.assessment) || !known.students.has(w.enrolment))
      return null;
    if (cell) cells.push(cell);
  }
  const { stamp, seq, assessments, students } = known;
  return { stamp, seq, done: new Map(), cells, assessments, students };
}

const byKeyOf = (known: Kept): Map<string, CellRow> =>
  (known.byKey ??= new Map(known.list!.map((c) => [cellKey(c), c])));

/** Keeps what was read of some cells. */
export function learn(school: string, book: string, wanted: CellPlace[], seen: ScoresSeen): void {
  const key = keyOf(school, book);
  let known = kept.get(key);
  if (known?.stamp !== seen.stamp) {
    const { stamp, seq } = seen;
    known = { stamp, seq, list: null, byKey: new Map(), whole: false, assessments: new Map(), students: new Set() };
  }
  const byKey = byKeyOf(known);
  const found = new Map(seen.cells.map((c) => [cellKey(c), c]));
  for (const w of wanted) byKey.set(cellKey(w), found.get(cellKey(w)) ?? emptyCell(w));
  for (const [id, a] of seen.assessments) known.assessments.set(id, a);
  for (const id of seen.students) known.students.add(id);
  keep(key, known);
}

/** Goes on with what was just written on top of `seen`, by nobody else than us: the writing has asked for its stamp. */
export function goOn(school: string, book: string, seen: ScoresSeen, now: ScoresKept, changed: CellRow[]): void {
  const known = kept.get(keyOf(school, book));
  if (known?.stamp !== seen.stamp) return;
  const byKey = byKeyOf(known);
  for (const c of changed) byKey.set(cellKey(c), c);
  Object.assign(known, now, { list: null });
}

/** Lets go what is known of a book. */
export const forget = (school: string, book: string): void => void kept.delete(keyOf(school, book));

/** What is known of a book, which is now the one last used. */
function used(key: string): Kept | undefined {
  const known = kept.get(key);
  if (known) {
    kept.delete(key);
    kept.set(key, known);
  }
  return known;
}

const sizeOf = (k: Kept): number => k.byKey?.size ?? k.list!.length;

function keep(key: string, known: Kept): void {
  kept.delete(key);
  kept.set(key, known);
  let held = 0;
  for (const k of kept.values()) held += sizeOf(k);
  for (const [other, k] of kept) {
    if (held <= MOST) return;
    kept.delete(other);
    held -= sizeOf(k);
  }
}

/** A line of a book's journal, and the stamp that its row has since then. */
export interface ScoresKept {
  stamp: string;
  seq: number;
}

/** All that is needed to change some cells of a book, as of one line of its journal. */
export interface ScoresSeen extends ScoresKept {
  done: Map<string, number>;
  cells: CellRow[];
  assessments: Map<string, { title: string; more: Partial<Item> }>;
  students: Set<string>;
}
