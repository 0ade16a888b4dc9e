import type { BookQuestions, SheetHost, SheetWorker } from './protocol';

/** What was asked is of a book that is not open any more: its answer is nobody's. */
export class SheetClosed extends Error {
  constructor() {
    super('Another book was opened meanwhile.');
  }
}

/** Lets go of what was asked of a book that is not open any more; anything else goes on. */
export function unlessClosed(error: unknown): void {
  if (!(error instanceof SheetClosed)) throw error;
}

const FREE = ['readFile', 'readText', 'guess', 'leftOut'] as const;

/**
 * The worker as the page speaks to it, one session for each book: a book that is opened again stays the same session, so
 * that what is typed while it is loaded is worked out on what is there. Answers of an earlier session are not given.
 */
export function sheetSessions(host: SheetHost): SheetWorker {
  let session = 0;
  /** The book of the session, as it is now; null: none, or a book as it stood. */
  let open: string | null = null;

  async function of<T>(mine: number, answer: Promise<T>): Promise<T> {
    try {
      const given = await answer;
      if (mine === session) return given;
    } catch (error) {
      if (mine === session) throw error;
    }
    throw new SheetClosed();
  }

  const free = Object.fromEntries(
    FREE.map((name) => [name, (...args: never[]) => (host[name] as (...a: never[]) => unknown)(...args)]),
  );
  const worker = {
    ...free,
    open(book: string) {
      if (open !== book) session++;
      open = book;
      return of(session, host.open(session, book));
    },
    openAsOf(book: string, at: string) {
      session++;
      open = null;
      return of(session, host.openAsOf(session, book, at));
    },
  };
  return new Proxy(worker, {
    get: (own, name) =>
      // Whoever is asked for a promise's method is no promise.
      typeof name === 'symbol' || name === 'then'
        ? undefined
        : name in own
          ? own[name as keyof typeof own]
          : (...args: unknown[]) => of(session, host.ask(session, name as keyof BookQuestions, args)),
  }) as unknown as SheetWorker;
}
