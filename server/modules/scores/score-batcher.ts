import type { EntryState } from '@contract/scores';
import type pg from 'pg';
import type { CachedAdmission } from '../accounts';
import type { Author } from '../books';
import type { WantedCell } from '../../kernel/cells/cell';
import { Refusal } from '../../kernel/refusal';
import { isDatabaseGone } from '../../kernel/database';
import { writeBatch, type Book, type ScoreChange } from './score-batch';

/** One change of one cell that waits to be kept. */
interface PendingChange extends ScoreChange {
  resolve(state: EntryState): void;
  reject(error: unknown): void;
}

/** Changes kept together at most. */
const BATCH_SIZE = 64;

/**
 * Keeps changes of single cells. Those of one book that come while others of it are being kept go together in the next
 * turn: a book's lines stand in one order anyway, so waiting for each other one by one would win nothing. Each is kept,
 * stale or refused by itself; the answer comes after the commit.
 */
export class ScoreBatcher {
  private readonly waiting = new Map<string, PendingChange[]>();

  constructor(private readonly pool: pg.Pool) {}

  change(
    who: Author,
    operation: string,
    wanted: WantedCell,
    cachedAdmission: CachedAdmission | null,
  ): Promise<EntryState> {
    return new Promise((kept, failed) => {
      const key = `${who.school} ${who.book}`;
      const queue = this.waiting.get(key);
      const wait: PendingChange = {
        person: who.person,
        fingerprint: who.fingerprint,
        operation,
        wanted,
        cachedAdmission,
        resolve: kept,
        reject: failed,
      };
      if (queue) return void queue.push(wait);
      this.waiting.set(key, [wait]);
      // After this turn of the event loop, so that those who come with it go with it.
      setImmediate(() => void this.run(key, who.school, who.book));
    });
  }

  private async run(key: string, school: string, book: string): Promise<void> {
    const queue = this.waiting.get(key)!;
    while (queue.length > 0) {
      const answers = await this.keep({ school, book }, queue.splice(0, BATCH_SIZE));
      // The next turn sets out first, and the answers of this one go out while the database works on it.
      setImmediate(() => answers.forEach((answer) => answer()));
    }
    this.waiting.delete(key);
  }

  /** Gives the answers, to be sent when it suits. */
  private async keep(of: Book, waits: PendingChange[]): Promise<(() => void)[]> {
    try {
      const outcomes = await writeBatch(this.pool, of, waits);
      return waits.map((w, i) => {
        const outcome = outcomes[i]!;
        return () => (outcome instanceof Refusal ? w.reject(outcome) : w.resolve(outcome));
      });
    } catch (error) {
      // One that fails must not take the others with it. A database that is gone is gone for all.
      if (isDatabaseGone(error) || waits.length === 1) return waits.map((w) => () => w.reject(error));
      const answers: (() => void)[] = [];
      for (const w of waits) answers.push(...(await this.keep(of, [w])));
      return answers;
    }
  }
}
