import type pg from 'pg';
import { createHash } from 'node:crypto';
import * as Y from 'yjs';
import { canonical } from '@core/book/canonical';
import { isEmptyText } from '@core/text/rich-text';
import type { EndNote, EndNoteMerged, EndNoteWrite } from '@contract/feedback';
import { newId, transaction, type Db } from '../../kernel/database';
import type { JobData, JobKind } from '../../kernel/jobs';
import type { LineContent } from '../../kernel/journal/sql/lines';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import { assessmentsNamed, commitBook, enrolledAmong, systemAuthor } from '../books';
import { docOf, MOST_BYTES, MOST_CHARACTERS, noteLength, noteText } from './note-text';
import {
  booksWithRested,
  endNoteOf,
  isSubmissionOf,
  prepareEndNote,
  restedNotes,
  setRested,
  writeEndNote,
  type NotePlace,
} from './sql/end-notes';

const EMPTY = Y.encodeStateAsUpdate(new Y.Doc());

/** Refuses a place that is none: another book's ids, a student who is not here, work of somebody else. */
async function requirePlace(db: Db, p: NotePlace): Promise<void> {
  if ((await assessmentsNamed(db, p.school, p.book, [p.assessment])).length === 0)
    throw new Refusal('not-found', 'There is no such assessment in this book.');
  if (!(await enrolledAmong(db, p.school, p.book, [p.enrolment])).has(p.enrolment))
    throw new Refusal('not-found', 'There is no such student in this book.');
  if (!/^hand-[1-9]\d{0,2}$/.test(p.work) && !(await isSubmissionOf(db, p)))
    throw new Refusal('not-found', 'There is no such work of this student.');
}

export async function endNote(db: Db, p: NotePlace): Promise<EndNote> {
  await requirePlace(db, p);
  const row = await endNoteOf(db, p);
  if (!row || row.version === 0) return { state: Buffer.from(EMPTY).toString('base64'), version: 0, by: '', at: null };
  return { state: row.state.toString('base64'), version: row.version, by: personName(row), at: row.at };
}

function read(update: string): Uint8Array {
  return new Uint8Array(Buffer.from(update, 'base64'));
}

/** Merges what somebody typed into the note; what two typed at once both stands. */
export function mergeEndNote(pool: pg.Pool, person: string, p: NotePlace, write: EndNoteWrite): Promise<EndNoteMerged> {
  return transaction(pool, async (db) => {
    await requirePlace(db, p);
    await prepareEndNote(db, p, person, EMPTY);
    const row = (await endNoteOf(db, p, true))!;
    const was = new Uint8Array(row.state);
    const [before, vector] = [Y.encodeStateVector(docOf(was)), read(write.has)];
    let merged: Y.Doc;
    let lacks: Uint8Array;
    try {
      merged = docOf(was, read(write.update));
      lacks = Y.encodeStateAsUpdate(merged, vector);
    } catch {
      throw new Refusal('bad-request', 'This is no piece of a text. Nothing was changed.');
    }
    // What waits for a piece that never came would stay with the note for good.
    if (merged.store.pendingStructs !== null)
      throw new Refusal('bad-request', 'A piece of this text is missing. Nothing was changed.');
    const answer = (version: number): EndNoteMerged => ({ version, lacks: Buffer.from(lacks).toString('base64') });
    const state = Y.encodeStateAsUpdate(merged);
    const isNews =
      Buffer.compare(Y.encodeStateVector(merged), before) !== 0 || Buffer.compare(state, Buffer.from(was)) !== 0;
    if (!isNews) return answer(row.version);
    if (state.length > MOST_BYTES || noteLength(merged) > MOST_CHARACTERS)
      throw new Refusal('too-large', `An end note has ${MOST_CHARACTERS} characters at most. This was not kept.`);
    await writeEndNote(db, p, { state, version: row.version + 1, person });
    return answer(row.version + 1);
  });
}

/** Seconds without a change after which a note has come to rest. */
const RESTS_AFTER = 20;

export type RestedBook = JobData & { book: string; person: string };

/** Notes that came to rest leave their line in the journal, in the name of who wrote last. */
export const restingJob: JobKind<RestedBook> = {
  name: 'feedback-rests',
  attempts: 8,
  firstPauseSeconds: 5,
  timeLimitSeconds: 120,
  keyOf: (of) => `${of.school} ${of.book} ${of.person}`,
  sweep: { everySeconds: 10, due: (db) => booksWithRested(db, RESTS_AFTER) },
  run: async ({ pool }, of) => {
    await restNotes(pool, of);
  },
};

/** Gives how many lines were written. `after`: seconds without a change. */
export function restNotes(
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
