import type pg from 'pg';
import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import { newId } from '../../kernel/database';
import type { JobData, JobKind } from '../../kernel/jobs';
import type { LineContent } from '../../kernel/journal/sql/lines';
import { commitBook, systemAuthor } from '../books';
import { booksWithRestedMarks, marksOn, restedWorks, setMarksRested, type MarkRow, type RestedWork } from './sql';

/** Seconds without a change after which marks have come to rest. */
const RESTS_AFTER = 20;

export type RestedMarks = JobData & { book: string; person: string };

/** Marks that came to rest leave a line in the journal, in the name of who changed them last. */
export const marksRestJob: JobKind<RestedMarks> = {
  name: 'marks-rest',
  attempts: 8,
  firstPauseSeconds: 5,
  timeLimitSeconds: 120,
  keyOf: (of) => `${of.school} ${of.book} ${of.person}`,
  sweep: { everySeconds: 10, due: (db) => booksWithRestedMarks(db, RESTS_AFTER) },
  run: async ({ pool }, of) => {
    await restMarks(pool, of);
  },
};

/** Gives how many lines were written. `after`: seconds without a change. */
export function restMarks(
  pool: pg.Pool,
  { school, book, person }: { school: string; book: string; person: string },
  after = RESTS_AFTER,
): Promise<number> {
  const author = systemAuthor(school, book, person, 'marks rest');
  return commitBook(pool, author, newId('rest'), async (db) => {
    const lines: LineContent[] = [];
    for (const w of await restedWorks(db, { school, book, person }, after)) {
      await setMarksRested(db, w, w.version);
      lines.push(restedLine(w, await marksOn(db, w)));
    }
    return { lines, answer: () => lines.length };
  });
}

function restedLine(w: RestedWork, rows: MarkRow[]): LineContent {
  const there = rows.filter((r) => !r.removed);
  const hash = createHash('sha256').update(canonical(there.map((r) => [r.id, r.annotation])));
  return {
    ...{ kind: 'marks', assessment: w.assessment, enrolment: w.enrolment },
    was: w.rested === 0 ? null : canonical({ submission: w.submission, version: w.rested }),
    becomes: canonical({
      ...{ submission: w.submission, version: w.version, marks: there.length },
      ...(there.length === 0 ? {} : { sha256: hash.digest('hex') }),
    }),
  };
}
