import { isStatementError, snapshot, type Db } from '../../kernel/database';
import type { JobData, JobKind } from '../../kernel/jobs';
import { findBook, type BookRow } from '../books';
import { NO_SUMMARY, summariseBook, type BookSummary } from './book-summary';
import { keptSummaries, putSummary, staleBooks } from './sql';

/** A book and where it stands. */
export interface SummarisedBook {
  row: BookRow;
  summary: BookSummary;
  /** Its rules or assessments cannot be read as they are kept: nothing is known of it, and it costs no other book. */
  faulty: boolean;
}

/** Where books stand: as it was last worked out where that holds, else worked out now. */
export async function summariesOf(db: Db, school: string, books: readonly BookRow[]): Promise<SummarisedBook[]> {
  const kept = await keptSummaries(
    db,
    school,
    books.map((b) => b.id),
  );
  const all: SummarisedBook[] = [];
  // One after the other: they are read on the one connection that sees one moment.
  for (const row of books) {
    const summary = kept.get(row.id) ?? (await summaryNow(db, school, row.id));
    all.push({ row, summary: summary ?? NO_SUMMARY, faulty: summary === null });
  }
  return all;
}

/** Null: the book cannot be read. Its job fails too, and tells the office why. */
async function summaryNow(db: Db, school: string, book: string): Promise<BookSummary | null> {
  try {
    return (await summariseBook(db, school, book)).summary;
  } catch (error) {
    if (isStatementError(error)) throw error;
    return null;
  }
}

/** Keeps the summaries of books up with what changes in them, and with the dates that pass. */
export const summaryJob: JobKind<JobData & { book: string }> = {
  name: 'book-summary',
  attempts: 5,
  firstPauseSeconds: 10,
  timeLimitSeconds: 120,
  keyOf: ({ school, book }) => `${school} ${book}`,
  sweep: { everySeconds: 10, due: staleBooks },
  run: async ({ pool }, { school, book }) => {
    const made = await snapshot(pool, async (db) => {
      const row = await findBook(db, school, book);
      return row && { stamp: row.stamp, summarised: await summariseBook(db, school, book) };
    });
    if (made) await putSummary(pool, school, book, made.stamp, made.summarised);
  },
};
