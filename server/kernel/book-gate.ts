import pLimit, { type LimitFunction } from 'p-limit';
import type pg from 'pg';
import { Refusal } from './refusal';

/** Connections that are never taken for writing: reading and signing in go on while books are being written. */
const FOR_READING = 3;
/** Changes that wait for one book at most; whoever comes then is told at once. */
const MOST_WAITING = 500;

/**
 * Where changes wait before a connection is taken for them: one of a book at a time goes in, as its lock would have it
 * anyway, so that the writers of one book never hold all connections.
 */
class BookGate {
  private readonly books = new Map<string, LimitFunction>();
  private readonly all: LimitFunction;

  constructor(connections: number) {
    this.all = pLimit(Math.max(1, connections - FOR_READING));
  }

  async pass<T>(book: string, work: () => Promise<T>): Promise<T> {
    let gate = this.books.get(book);
    if (!gate) this.books.set(book, (gate = pLimit(1)));
    if (gate.pendingCount >= MOST_WAITING)
      throw new Refusal('unavailable', 'Many change this book just now. Nothing was changed; try again in a moment.');
    try {
      return await gate(() => this.all(work));
    } finally {
      if (gate.activeCount === 0 && gate.pendingCount === 0) this.books.delete(book);
    }
  }
}

const gates = new WeakMap<pg.Pool, BookGate>();

/** Runs work on a book once its turn has come. */
export function passBookGate<T>(pool: pg.Pool, school: string, book: string, work: () => Promise<T>): Promise<T> {
  let gate = gates.get(pool);
  if (!gate) gates.set(pool, (gate = new BookGate(pool.options.max)));
  return gate.pass(`${school} ${book}`, work);
}
