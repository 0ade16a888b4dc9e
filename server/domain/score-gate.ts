import type { EntryState } from '@contract/entries';
import type pg from 'pg';
import { newId, transaction, type Db } from '../store/database';
import type { CellRow } from '../store/entries';
import * as journal from '../store/journal';
import { keepScores, seeScores, type ScoresSeen } from '../store/scores';
import { cellKey, cellLine, emptyCell, nextCell, staleRefusal, stateOf, whyNot, type WantedCell } from './cells';
import { Refusal } from './problems';

/** One change of one cell that waits to be kept. */
interface Wait {
  person: string;
  operation: string;
  wanted: WantedCell;
  kept(state: EntryState): void;
  failed(error: unknown): void;
}

type Outcome = EntryState | Refusal;

/** Changes kept together at most. */
const TOGETHER = 64;
/** Times that somebody else's change of the book is met before the book is locked for the reading too. */
const TRIES = 3;

/**
 * Keeps changes of single cells. Those of one book that come while others of it are being kept go together in the next
 * turn: a book's lines stand in one order anyway, so waiting for each other one by one would win nothing. Each is kept,
 * stale or refused by itself; the answer comes after the commit. A turn is two statements: one reads, the other writes
 * if nobody has changed the book in between.
 */
export class ScoreGate {
  private readonly waiting = new Map<string, Wait[]>();

  constructor(private readonly pool: pg.Pool) {}

  change(who: journal.Who, operation: string, wanted: WantedCell): Promise<EntryState> {
    return new Promise((kept, failed) => {
      const key = `${who.school} ${who.book}`;
      const queue = this.waiting.get(key);
      const wait = { person: who.person, operation, wanted, kept, failed };
      if (queue) return void queue.push(wait);
      this.waiting.set(key, [wait]);
      // After this turn of the event loop, so that those who come with it go with it.
      setImmediate(() => void this.run(key, who.school, who.book));
    });
  }

  private async run(key: string, school: string, book: string): Promise<void> {
    for (;;) {
      const queue = this.waiting.get(key)!;
      if (queue.length === 0) return void this.waiting.delete(key);
      await this.keep(school, book, queue.splice(0, TOGETHER));
    }
  }

  private async keep(school: string, book: string, waits: Wait[]): Promise<void> {
    try {
      const outcomes = await this.keepAll(school, book, waits);
      waits.forEach((w, i) => {
        const outcome = outcomes[i]!;
        if (outcome instanceof Refusal) w.failed(outcome);
        else w.kept(outcome);
      });
    } catch (error) {
      // One that the database itself refuses must not take the others with it. A database that is gone is gone for all.
      const refused = /^(22|23|40)/.test((error as { code?: string }).code ?? '');
      if (refused && waits.length > 1) for (const w of waits) await this.keep(school, book, [w]);
      else for (const w of waits) w.failed(error);
    }
  }

  private async keepAll(school: string, book: string, waits: Wait[]): Promise<Outcome[]> {
    for (let i = 0; i < TRIES; i++) {
      const outcomes = await keepSeen(this.pool, school, book, waits);
      if (outcomes) return outcomes;
    }
    return transaction(this.pool, async (db) => {
      await journal.holdBook(db, school, book);
      const outcomes = await keepSeen(db, school, book, waits);
      if (!outcomes) throw new Error('a locked book was changed by somebody else');
      return outcomes;
    });
  }
}

/** Reads, decides and writes; null where somebody else changed the book in between. */
async function keepSeen(db: Db, school: string, book: string, waits: Wait[]): Promise<Outcome[] | null> {
  const seen = await seeScores(
    db,
    school,
    book,
    waits.map((w) => ({ operation: w.operation, ...w.wanted })),
  );
  if (!seen) return waits.map(() => new Refusal('not-found', 'You have no such book.'));
  const { outcomes, changed, lines } = decide(seen, waits);
  if (lines.length === 0) return outcomes;
  const who = { school, book, person: waits[0]!.person };
  return (await keepScores(db, who, seen.seq, changed, lines)) ? outcomes : null;
}

/** What becomes of each change, one after the other: those on one cell see each other's. */
function decide(
  seen: ScoresSeen,
  waits: Wait[],
): { outcomes: Outcome[]; changed: CellRow[]; lines: journal.JournalLine[] } {
  const cells = new Map(seen.cells.map((c) => [cellKey(c), c]));
  const changed = new Map<string, CellRow>();
  const lines: journal.JournalLine[] = [];
  const outcomes = waits.map((w): Outcome => {
    const key = cellKey(w.wanted);
    const now = cells.get(key) ?? emptyCell(w.wanted);
    const before = seen.done.get(w.operation);
    if (before !== undefined) return stateOf(now, before);
    const says = whyNot(w.wanted, seen.assessments, seen.students);
    if (says) return new Refusal('bad-request', `${says} Nothing was changed.`, { faults: [{ at: '/change', says }] });
    if (now.version !== w.wanted.version) return staleRefusal([now], 1);
    const next = nextCell(now, w.wanted.change);
    cells.set(key, next);
    changed.set(key, next);
    lines.push({ ...cellLine(w.operation, now, next), person: w.person, batch: newId('b') });
    seen.done.set(w.operation, seen.seq + lines.length);
    return stateOf(next, seen.seq + lines.length);
  });
  return { outcomes, changed: [...changed.values()], lines };
}
