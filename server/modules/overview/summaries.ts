import { snapshot, type Db } from '../../kernel/database';
import type { JobData, JobKind } from '../../kernel/jobs';
import { findBook, type BookRow } from '../books';
import { summariseBook, type BookSummary } from './book-summary';
import { keptSummaries, putSummary, staleBooks } from './sql';

/** A book and where it stands. */
export interface SummarisedBook {
  row: BookRow;
  summary: BookSummary;
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
  for (const row of books)
    all.push({ row, summary: kept.get(row.id) ?? (await summariseBook(db, school, row.id)).summary });
  return all;
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
