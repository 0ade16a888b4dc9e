import type { JobData, JobKind } from '../jobs';
import { sealJournal } from './seals';
import { unsealedBooks } from './sql/seals';

/** Seals what the journals have gained, each book's by itself. */
export const sealJob: JobKind<JobData & { book: string }> = {
  name: 'journal-seal',
  attempts: 8,
  firstPauseSeconds: 5,
  timeLimitSeconds: 300,
  keyOf: ({ school, book }) => `${school} ${book}`,
  sweep: { everySeconds: 5, due: unsealedBooks },
  run: async ({ pool }, { school, book }) => {
    await sealJournal(pool, school, book);
  },
};
