import { CALCULATION_VERSION, movedByRepairs } from '@core/calculation/repairs';
import type pg from 'pg';
import type { JobData, JobKind } from '../../kernel/jobs';
import { assembleDocument, commitBook, systemAuthor } from '../books';
import { booksOfEarlierCalculation, setCalculation } from './sql/calculation';

export type EarlierCalculation = JobData & { book: string; person: string };

/**
 * Works out every book that an earlier calculation worked out both ways, and leaves a line where somebody's figure
 * differs, in the name of whoever made its rules.
 */
export const calculationJob: JobKind<EarlierCalculation> = {
  name: 'calculation',
  attempts: 8,
  firstPauseSeconds: 5,
  timeLimitSeconds: 600,
  keyOf: (of) => `${of.school} ${of.book}`,
  sweep: { everySeconds: 600, due: (db) => booksOfEarlierCalculation(db, CALCULATION_VERSION) },
  run: async ({ pool }, of) => {
    await takeCalculation(pool, of);
  },
};

/** Gives how many students have another figure. */
export function takeCalculation(pool: pg.Pool, { school, book, person }: EarlierCalculation): Promise<number> {
  const act = `calculation-${CALCULATION_VERSION}`;
  return commitBook(pool, systemAuthor(school, book, person, act), `${act}-${book}`, async (db) => {
    const students = movedByRepairs(await assembleDocument(db, school, book)).length;
    await setCalculation(db, school, book, CALCULATION_VERSION);
    const becomes = JSON.stringify({ version: CALCULATION_VERSION, students });
    const line = { kind: 'calculation' as const, assessment: null, enrolment: null, was: null, becomes };
    return { lines: students === 0 ? [] : [line], answer: () => students };
  });
}
