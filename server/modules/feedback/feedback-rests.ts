import type pg from 'pg';
import { createHash } from 'node:crypto';
import { canonical } from '@core/book/canonical';
import { isEmptyText } from '@core/text/rich-text';
import { newId } from '../../kernel/database';
import type { JobData, JobKind } from '../../kernel/jobs';
import type { LineContent } from '../../kernel/journal/sql/lines';
import { commitBook, systemAuthor } from '../books';
import { docOf, noteText } from './note-text';
import { booksWithRested, restedNotes, setRested, type NotePlace } from './sql/end-notes';
import { restFiles, type RestedFile } from './sql/feedback-attachments';

/** Seconds without a change after which feedback has come to rest. */
const RESTS_AFTER = 20;

export type RestedBook = JobData & { book: string; person: string };

/** Notes and files that came to rest leave their line in the journal, in the name of who changed them last. */
export const restingJob: JobKind<RestedBook> = {
  name: 'feedback-rests',
  attempts: 8,
  firstPauseSeconds: 5,
  timeLimitSeconds: 120,
  keyOf: (of) => `${of.school} ${of.book} ${of.person}`,
  sweep: { everySeconds: 10, due: (db) => booksWithRested(db, RESTS_AFTER) },
  run: async ({ pool }, of) => {
    await restFeedback(pool, of);
  },
};

/** Gives how many lines were written. `after`: seconds without a change. */
export function restFeedback(
  pool: pg.Pool,
  { school, book, person }: { school: string; book: string; person: string },
  after = RESTS_AFTER,
): Promise<number> {
  const author = systemAuthor(school, book, person, 'feedback rests');
  return commitBook(pool, author, newId('rest'), async (db) => {
    const lines: LineContent[] = [];
    for (const n of await restedNotes(db, { school, book, person }, after)) {
      await setRested(db, n, n.version);
      lines.push(noteLine(n, noteText(docOf(new Uint8Array(n.state)))));
    }
    lines.push(...(await restFiles(db, { school, book, person }, after)).map(fileLine));
    return { lines, answer: () => lines.length };
  });
}

const noteLine = (
  n: NotePlace & { version: number; rested: number },
  text: ReturnType<typeof noteText>,
): LineContent => ({
  kind: 'feedback',
  assessment: n.assessment,
  enrolment: n.enrolment,
  was: n.rested === 0 ? null : canonical({ work: n.work, version: n.rested }),
  becomes: canonical({
    ...{ work: n.work, version: n.version },
    ...(isEmptyText(text) ? {} : { sha256: createHash('sha256').update(canonical(text)).digest('hex') }),
  }),
});

const fileLine = (f: RestedFile): LineContent => ({
  kind: 'feedback-attachment',
  assessment: f.assessment,
  enrolment: f.enrolment,
  was: f.rested === 0 ? null : canonical({ file: f.id, purpose: f.purpose, version: f.rested }),
  becomes: canonical({
    ...{ file: f.id, purpose: f.purpose, version: f.version },
    ...(f.removed ? {} : { sha256: f.sha256 }),
  }),
});
