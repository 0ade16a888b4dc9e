import { seesCommitted, type Db } from '../database';
import { readCells, type CellRow } from './sql';
import { cellKeyOf, emptyCell, type CellPlace } from './cell';

/** Cells held at most, over all books: some hundred megabytes. */
const MAX_CELLS = 400_000;

/** What is known of one book at one stamp of its row. */
interface CachedBook {
  stamp: string;
  seq: number;
  /** All of its cells, or null where only some are known or some have changed since the list was made. */
  list: CellRow[] | null;
  /** The same by {@link cellKeyOf}; null until one is asked for. Cells that hold nothing may be among them. */
  byKey: Map<string, CellRow> | null;
  /** A cell that is not in `byKey` holds nothing. */
  whole: boolean;
  assessments: ScoresSnapshot['assessments'];
  students: Set<string>;
}

/** A book's row, as far as it tells one state of the book from another. */
export interface BookStamp {
  school: string;
  id: string;
  stamp: string;
  seq: number;
}

const cachedBooks = new Map<string, CachedBook>();
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
  if (seesCommitted(db) && (cachedBooks.get(key)?.seq ?? -1) <= seq)
    store(key, { stamp, seq, list: cells, byKey: null, whole: true, assessments: new Map(), students: new Set() });
  return cells;
}

function listOf(known: CachedBook): CellRow[] {
  return (known.list ??= [...known.byKey!.values()].filter((c) => c.version > 0 || c.releaseState !== 0));
}

/**
 * What is needed to change some cells, as far as it is known without asking; null where it is not. Whether it is still
 * right is for the writing to ask, by the stamp; which operations were done before is not known.
 */
export function peek(school: string, book: string, wanted: CellPlace[]): ScoresSnapshot | null {
  const known = used(keyOf(school, book));
  if (!known) return null;
  const byKey = byKeyOf(known);
  const cells: CellRow[] = [];
  for (const w of wanted) {
    const cell = byKey.get(cellKeyOf(w));
    if ((!cell && !known.whole) || !known.assessments.has(w.assessment) || !known.students.has(w.enrolment))
      return null;
    if (cell) cells.push(cell);
  }
  const { stamp, seq, assessments, students } = known;
  return { stamp, seq, done: new Map(), cells, assessments, students };
}

const byKeyOf = (known: CachedBook): Map<string, CellRow> =>
  (known.byKey ??= new Map(known.list!.map((c) => [cellKeyOf(c), c])));

/** Keeps what was read of some cells. */
export function populate(school: string, book: string, wanted: CellPlace[], seen: ScoresSnapshot): void {
  const key = keyOf(school, book);
  let known = cachedBooks.get(key);
  if (known?.stamp !== seen.stamp) {
    const { stamp, seq } = seen;
    known = { stamp, seq, list: null, byKey: new Map(), whole: false, assessments: new Map(), students: new Set() };
  }
  const byKey = byKeyOf(known);
  const found = new Map(seen.cells.map((c) => [cellKeyOf(c), c]));
  for (const w of wanted) byKey.set(cellKeyOf(w), found.get(cellKeyOf(w)) ?? emptyCell(w));
  for (const [id, a] of seen.assessments) known.assessments.set(id, a);
  for (const id of seen.students) known.students.add(id);
  store(key, known);
}

/** Goes on with what was just written on top of `seen`, by nobody else than us: the writing has asked for its stamp. */
export function advance(
  school: string,
  book: string,
  seen: ScoresSnapshot,
  now: WrittenScores,
  changed: CellRow[],
): void {
  const known = cachedBooks.get(keyOf(school, book));
  if (known?.stamp !== seen.stamp) return;
  const byKey = byKeyOf(known);
  for (const c of changed) byKey.set(cellKeyOf(c), c);
  Object.assign(known, now, { list: null });
}

/** Lets go what is known of a book. */
export const invalidate = (school: string, book: string): void => void cachedBooks.delete(keyOf(school, book));

/** What is known of a book, which is now the one last used. */
function used(key: string): CachedBook | undefined {
  const known = cachedBooks.get(key);
  if (known) {
    cachedBooks.delete(key);
    cachedBooks.set(key, known);
  }
  return known;
}

const sizeOf = (k: CachedBook): number => k.byKey?.size ?? k.list!.length;

function store(key: string, known: CachedBook): void {
  cachedBooks.delete(key);
  cachedBooks.set(key, known);
  let held = 0;
  for (const k of cachedBooks.values()) held += sizeOf(k);
  for (const [other, k] of cachedBooks) {
    if (held <= MAX_CELLS) return;
    cachedBooks.delete(other);
    held -= sizeOf(k);
  }
}

/** A line of a book's journal, and the stamp that its row has since then. */
export interface WrittenScores {
  stamp: string;
  seq: number;
}

/** A line that was written before: by whom, and what they asked (null: by an earlier version, which did not keep that). */
export interface DoneOperation {
  seq: number;
  person: string;
  fingerprint: string | null;
}

/** What has to be known of an assessment to change a cell of it. */
export interface ScoredAssessment {
  title: string;
  /** The labels that it is scored in; null where it has no named marks. */
  marks: ReadonlySet<string> | null;
}

/** All that is needed to change some cells of a book, as of one line of its journal. */
export interface ScoresSnapshot extends WrittenScores {
  /** Operations whose line stands in the journal. */
  done: Map<string, DoneOperation>;
  cells: CellRow[];
  assessments: Map<string, ScoredAssessment>;
  students: Set<string>;
}
