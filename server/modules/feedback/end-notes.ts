import type pg from 'pg';
import * as Y from 'yjs';
import type { EndNote, EndNoteMerged, EndNoteWrite } from '@contract/work/feedback';
import { transaction, type Db } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import { assessmentsNamed, enrolledAmong } from '../books';
import { docOf, MOST_BYTES, MOST_CHARACTERS, noteLength } from './note-text';
import { endNoteOf, isSubmissionOf, prepareEndNote, writeEndNote, type NotePlace } from './sql/end-notes';

const EMPTY = Y.encodeStateAsUpdate(new Y.Doc());

/** Refuses a place that is none: another book's ids, a student who is not here, work of somebody else. */
export async function requirePlace(db: Db, p: NotePlace): Promise<void> {
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
