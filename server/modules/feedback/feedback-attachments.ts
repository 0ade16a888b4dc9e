import type pg from 'pg';
import {
  isRecording,
  MOST_RECORDED_BYTES,
  type FeedbackAttachment,
  type FeedbackAttachmentChange,
  type FeedbackAttachments,
  type FeedbackAttachmentWrite,
  type RecordingEnd,
} from '@contract/work/feedback';
import { counted } from '@core/words/count';
import { transaction, type Db } from '../../kernel/database';
import type { Room } from '../../kernel/config';
import type { FileStore } from '../../kernel/files/file-store';
import { settleContent } from '../../kernel/files/settle';
import { Refusal } from '../../kernel/refusal';
import { personName } from '../accounts';
import { requirePlace } from './end-notes';
import type { NotePlace } from './sql/end-notes';
import {
  feedbackAttachmentsOf,
  holdFeedbackAttachment,
  insertFeedbackAttachment,
  measureRecording,
  nameFeedbackAttachment,
  setFeedbackAttachmentRemoved,
  tellFeedbackAttachment,
  type FeedbackAttachmentRow,
} from './sql/feedback-attachments';

/** Files beside one piece of work at most, and bytes of one of them. */
const MOST_FILES = 30;
const MOST_BYTES = 1_000_000_000;

const toFile = (row: FeedbackAttachmentRow, reader: string): FeedbackAttachment => {
  const { enrolment, work: _work, person, family, given, ...rest } = row;
  return { ...rest, everybody: enrolment === null, by: personName({ family, given }), mine: person === reader };
};

export async function feedbackAttachments(db: Db, p: NotePlace, reader: string): Promise<FeedbackAttachments> {
  await requirePlace(db, p);
  return (await feedbackAttachmentsOf(db, p)).map((r) => toFile(r, reader));
}

/** A file is to come. The same may be asked for again. */
export function beginFeedbackAttachment(
  pool: pg.Pool,
  files: FileStore,
  room: Room,
  person: string,
  p: NotePlace,
  write: FeedbackAttachmentWrite,
): Promise<FeedbackAttachments> {
  return transaction(pool, async (db) => {
    await requirePlace(db, p);
    const there = await feedbackAttachmentsOf(db, p);
    if (there.some((f) => f.id === write.id)) return feedbackAttachments(db, p, person);
    if (Buffer.byteLength(write.name) > 255)
      throw new Refusal('bad-request', 'The name of this file is longer than a file’s name can be.');
    if (write.everybody && write.purpose !== 'given')
      throw new Refusal('bad-request', 'Only a file that is given back can be for everybody.');
    const most = isRecording(write.purpose) ? MOST_RECORDED_BYTES : MOST_BYTES;
    if (write.bytes > most) throw new Refusal('bad-request', isRecording(write.purpose) ? 'A recording has 100 MB at most.' : 'A file has 1 GB at most.'); // prettier-ignore
    if (there.filter((f) => !f.removed).length >= MOST_FILES)
      throw new Refusal('bad-request', `${counted(MOST_FILES, 'file')} beside one piece of work at most. Take one off first.`); // prettier-ignore
    const upload = await files.begin(db, p.school, person, write.bytes, room.school);
    if (!(await insertFeedbackAttachment(db, p, { ...write, upload, person })))
      throw new Refusal('already-there', 'Another file has this id.');
    await tellFeedbackAttachment(db, { ...p, ...(write.everybody ? { enrolment: null, work: null } : {}) });
    return feedbackAttachments(db, p, person);
  });
}

async function requireFile(db: Db, p: NotePlace, id: string): Promise<FeedbackAttachmentRow> {
  await requirePlace(db, p);
  const file = await holdFeedbackAttachment(db, p, id);
  if (!file) throw new Refusal('not-found', 'There is no such file.');
  return file;
}

/** A recording has all its bytes: its page says how many, or it had broken off and what came of it is kept. */
export async function endRecording(
  pool: pg.Pool,
  files: FileStore,
  person: string,
  p: NotePlace,
  id: string,
  end: RecordingEnd,
): Promise<FeedbackAttachments> {
  const upload = await transaction(pool, async (db) => {
    const file = await requireFile(db, p, id);
    if (!isRecording(file.purpose)) throw new Refusal('bad-request', 'This is no recording.');
    // Ended before: the answer was lost.
    if (file.sha256 !== null) return null;
    if (file.person !== person)
      throw new Refusal('not-allowed', `Only ${personName(file)}, who made this recording, can keep it.`);
    if (file.received !== end.bytes)
      throw new Refusal('stale', 'The recording is not all here yet. Nothing of it was lost.');
    if (file.received === 0) throw new Refusal('bad-request', 'Nothing was recorded.');
    await measureRecording(db, p.school, file.upload, end);
    await files.close(db, p.school, file.upload);
    return file.upload;
  });
  if (upload !== null) {
    const content = await settleContent(files, p.school, upload);
    await transaction(pool, (db) => nameFeedbackAttachment(db, p.school, upload, content));
  }
  return feedbackAttachments(pool, p, person);
}

/** Takes a file off, or puts it back; never over what somebody else did meanwhile. */
export function changeFeedbackAttachment(
  pool: pg.Pool,
  person: string,
  p: NotePlace,
  id: string,
  { version, removed }: FeedbackAttachmentChange,
): Promise<FeedbackAttachments> {
  return transaction(pool, async (db) => {
    const file = await requireFile(db, p, id);
    const answer = (): Promise<FeedbackAttachments> => feedbackAttachments(db, p, person);
    // The same once more, whose answer was lost.
    if (file.removed === removed && (file.version === version || file.version === version + 1)) return answer();
    if (file.version !== version)
      throw new Refusal('stale', 'Somebody else took this file off, or put it back, after you saw it.', { now: await answer() }); // prettier-ignore
    await setFeedbackAttachmentRemoved(db, p, { id, removed, version: version + 1, person });
    await tellFeedbackAttachment(db, { ...p, enrolment: file.enrolment, work: file.work });
    return answer();
  });
}

/** A file that is all there, to be read by staff; one that was taken off too, so that it can be looked at before it is put back. */
export async function readFeedbackAttachment(
  db: Db,
  p: NotePlace,
  id: string,
): Promise<{ name: string; bytes: number; sha256: string }> {
  await requirePlace(db, p);
  const file = (await feedbackAttachmentsOf(db, p)).find((f) => f.id === id);
  if (!file || file.sha256 === null) throw new Refusal('not-found', 'There is no such file.');
  return { name: file.name, bytes: file.bytes, sha256: file.sha256 };
}
