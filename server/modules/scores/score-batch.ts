import type { EntryState } from '@contract/scores';
import type pg from 'pg';
import type { CachedAdmission, Grant } from '../accounts';
import { transaction, type Db } from '../../kernel/database';
import type { CellRow } from '../../kernel/cells/sql';
import { writeScores, readScores } from './sql/score-batch';
import { cellKeyOf, cellLine, emptyCell, stateOf, type WantedCell } from '../../kernel/cells/cell';
import {
  invalidate,
  advance,
  peek,
  populate,
  type DoneOperation,
  type WrittenScores,
  type ScoresSnapshot,
} from '../../kernel/cells/cell-cache';
import { Refusal } from '../../kernel/refusal';
import { asBookTransaction } from '../../kernel/book-transaction';
import { lockBook, type JournalLine } from '../../kernel/journal/sql/lines';
import { operationUsed } from '../books';
import { planCell, staleRefusal } from './change-cells';

/** One change of one cell, and by whom. */
export interface ScoreChange {
  person: string;
  /** SHA-256 of route and canonical body. */
  fingerprint: string;
  operation: string;
  wanted: WantedCell;
  cachedAdmission: CachedAdmission | null;
}

export type Outcome = EntryState | Refusal;

export interface Book {
  school: string;
  book: string;
}

/** Times that somebody else's change of the book is met before the book is locked for the reading too. */
const TRIES = 3;
/** What the database says where a line of the same operation stands already. */
const OPERATION_THERE = '23505';

/**
 * Keeps some changes of one book together, each for itself kept, stale or refused. Where the cells are known
 * (kernel/cells/cell-cache.ts) that is one statement, which writes if the book and those who write are still as they were known to be.
 * Else it is asked anew who they are, one statement reads, and another writes if nobody changed the book in between.
 */
export async function writeBatch(pool: pg.Pool, of: Book, changes: ScoreChange[]): Promise<Outcome[]> {
  const known = await writeFromCache(pool, of, changes);
  if (known) return known;
  const refused = await Promise.all(changes.map((c) => recheckAdmission(c)));
  const allowed = changes.filter((_, i) => refused[i] === null);
  const outcomes = allowed.length === 0 ? [] : await writeAfterRead(pool, of, allowed);
  return refused.map((r) => r ?? outcomes.shift()!);
}

async function recheckAdmission({ cachedAdmission }: ScoreChange): Promise<Refusal | null> {
  try {
    await cachedAdmission?.recheck();
    return null;
  } catch (error) {
    if (error instanceof Refusal) return error;
    throw error;
  }
}

/** From what is known of the book, without asking; null where that is not enough or no longer right. */
async function writeFromCache(pool: pg.Pool, of: Book, changes: ScoreChange[]): Promise<Outcome[] | null> {
  const seen = peek(of.school, of.book, wantedOf(changes));
  if (!seen) return null;
  const plan = planBatch(seen, changes);
  // What seems to be refused may have been kept before, by the same operation: that only the journal tells.
  if (plan.lines.length === 0 || plan.outcomes.some((o) => o instanceof Refusal)) return null;
  const grants = new Map(
    changes.flatMap(({ cachedAdmission }) =>
      cachedAdmission ? [[cachedAdmission.grant.session, cachedAdmission.grant]] : [],
    ),
  );
  try {
    if (await write(pool, of, changes, seen, plan, [...grants.values()])) return plan.outcomes;
  } catch (error) {
    if ((error as { code?: string }).code !== OPERATION_THERE) throw error;
  }
  return null;
}

/** From what is read. All of these have been asked who they are. */
async function writeAfterRead(pool: pg.Pool, of: Book, changes: ScoreChange[]): Promise<Outcome[]> {
  for (let i = 0; i < TRIES; i++) {
    const seen = await readSnapshot(pool, of, changes);
    if (!seen) return noSuchBook(changes);
    populate(of.school, of.book, wantedOf(changes), seen);
    const plan = planBatch(seen, changes);
    if (plan.lines.length === 0 || (await write(pool, of, changes, seen, plan))) return plan.outcomes;
  }
  return transaction(pool, async (connection) => {
    const db = asBookTransaction(connection);
    await lockBook(db, of.school, of.book);
    const seen = await readSnapshot(db, of, changes);
    if (!seen) return noSuchBook(changes);
    const plan = planBatch(seen, changes);
    const who = { ...of, person: changes[0]!.person };
    if (plan.lines.length > 0 && !(await writeScores(db, who, seen, plan)))
      throw new Error('a locked book was changed by somebody else');
    return plan.outcomes;
  });
}

const wantedOf = (changes: ScoreChange[]): WantedCell[] => changes.map((c) => c.wanted);

const noSuchBook = (changes: ScoreChange[]): Outcome[] =>
  changes.map(() => new Refusal('not-found', 'You have no such book.'));

const readSnapshot = (db: Db, { school, book }: Book, changes: ScoreChange[]): Promise<ScoresSnapshot | null> =>
  readScores(
    db,
    school,
    book,
    changes.map((c) => ({ operation: c.operation, ...c.wanted })),
  );

/** Writes where all is still as it was seen, and knows the book by what was written from then on. */
async function write(
  pool: pg.Pool,
  of: Book,
  changes: ScoreChange[],
  seen: ScoresSnapshot,
  plan: BatchPlan,
  grants: Grant[] = [],
): Promise<WrittenScores | null> {
  let now: WrittenScores | null = null;
  try {
    now = await writeScores(pool, { ...of, person: changes[0]!.person }, seen, plan, grants);
    return now;
  } finally {
    if (now) advance(of.school, of.book, seen, now, plan.changed);
    else invalidate(of.school, of.book);
  }
}

interface BatchPlan {
  outcomes: Outcome[];
  changed: CellRow[];
  lines: JournalLine[];
  /** A cell has fewer attempts than before. */
  fewer: boolean;
}

/** What becomes of each change, one after the other: those on one cell see each other's. */
function planBatch(seen: ScoresSnapshot, changes: ScoreChange[]): BatchPlan {
  const done = new Map(seen.done);
  let fewer = false;
  const cells = new Map(seen.cells.map((c) => [cellKeyOf(c), c]));
  const changed = new Map<string, CellRow>();
  const lines: JournalLine[] = [];
  const outcomes = changes.map((w): Outcome => {
    const key = cellKeyOf(w.wanted);
    const now = cells.get(key) ?? emptyCell(w.wanted);
    const before = done.get(w.operation);
    if (before) return isSame(before, w) ? stateOf(now, before.seq) : operationUsed();
    const cell = planCell(w.wanted, now, seen);
    if ('fault' in cell) return refusalOf(cell.fault);
    if ('stale' in cell) return staleRefusal([now], 1);
    const { next } = cell;
    fewer ||= attemptsOf(next) < attemptsOf(now);
    cells.set(key, next);
    changed.set(key, next);
    const { operation, person, fingerprint } = w;
    const seq = seen.seq + lines.length + 1;
    lines.push({ ...cellLine(now, next), operation, person, fingerprint, batch: batchOf(seq) });
    done.set(operation, { seq, person, fingerprint });
    return stateOf(next, seq);
  });
  return { outcomes, changed: [...changed.values()], lines, fewer };
}

const refusalOf = (detail: string): Refusal =>
  new Refusal('bad-request', `${detail} Nothing was changed.`, { errors: [{ pointer: '/change', detail }] });

/** The same decision of the same person once more. */
const isSame = (before: DoneOperation, { person, fingerprint }: ScoreChange): boolean =>
  before.person === person && (before.fingerprint === null || before.fingerprint === fingerprint);

/** The batch of a line that stands by itself: another for each line of a book, and side by side in its index. */
const batchOf = (seq: number): string => `l-${String(seq).padStart(9, '0')}`;

const attemptsOf = ({ content }: CellRow): number => content.attempts?.length ?? 0;
