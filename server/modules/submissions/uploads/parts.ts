import { counted } from '@core/words/count';
import type pg from 'pg';
import type { FileWrite, Submission, WorkWrite } from '@contract/work/submissions';
import type { Room } from '../../../kernel/config';
import type { FileStore } from '../../../kernel/files/file-store';
import { settleContent } from '../../../kernel/files/settle';
import { newId, transaction, type Db } from '../../../kernel/database';
import { Refusal } from '../../../kernel/refusal';
import { handedOf, ownPlace, type OwnPlace } from '../facts';
import { nameFeedbackAttachment } from '../../feedback';
import { nameHandout } from '../../instructions';
import { deleteFile, fileOfUpload, insertFile, nameContent, roomTaken, type FileRow } from '../sql/files';
import {
  beginSubmission,
  bumpVersion,
  findSubmission,
  holdSubmission,
  submissionsOf,
  writeTyped,
  type SubmissionRow,
} from '../sql/submissions';
import { insertTrace } from '../sql/traces';
import { shutReason, viewOf } from '../view';

const MEGABYTE = 1_000_000;

export interface Student {
  school: string;
  person: string;
  book: string;
  assessment: string;
}

const place = (db: Db, s: Student): Promise<OwnPlace> => ownPlace(db, s.school, s.person, s.book, s.assessment);

/** Refuses where nothing can be handed in now. */
export async function requireOpen(db: Db, own: OwnPlace): Promise<void> {
  const { book, assessment, closes } = own;
  const shut = shutReason({ row: book.row, assessment, closes, asOf: book.asOf }, await handedOf(db, own));
  if (shut !== '') throw new Refusal('not-allowed', `${shut} What lies here stays.`);
}

async function begin(db: Db, own: OwnPlace, who: Student): Promise<{ id: string; version: number }> {
  const { school, book, person } = who;
  const cell = { id: newId('w'), assessment: own.assessment.id, enrolment: own.student.id };
  const begun = await beginSubmission(db, school, book, cell);
  if (!begun) throw new Refusal('stale', 'This was handed in at this moment, in another window. Look again.');
  if (begun.isNew) await insertTrace(db, school, book, { submission: begun.id, person, kind: 'begun' });
  return begun;
}

/** Keeps what is typed, as it is typed. */
export function keepTyped(pool: pg.Pool, who: Student, write: WorkWrite): Promise<Submission> {
  return transaction(pool, async (db) => {
    const own = await place(db, who);
    await requireOpen(db, own);
    const kinds = own.assessment.work.kinds;
    if (kinds && ((write.typed !== '' && !kinds.includes('text')) || (write.link !== '' && !kinds.includes('link'))))
      throw new Refusal('bad-request', 'This is not handed in as that. Nothing was changed.');
    const { id, version } = await begin(db, own, who);
    const now = async (): Promise<SubmissionRow> => (await findSubmission(db, who.school, who.book, id))!;
    const { school, book } = who;
    const written =
      (write.version === 0 ? version === 1 : write.version === version) &&
      (await writeTyped(db, school, book, { id, version, typed: write.typed, link: write.link }));
    if (!written)
      throw new Refusal('stale', 'This was changed in another window after you saw it. Look at it first.', {
        now: viewOf(await now(), own.assessment.work),
      });
    return viewOf(await now(), own.assessment.work);
  });
}

/** A file is to come: makes its place, once however often it is asked for. */
export function addFile(
  pool: pg.Pool,
  files: FileStore,
  room: Room,
  who: Student,
  write: FileWrite,
): Promise<Submission> {
  return transaction(pool, async (db) => {
    const own = await place(db, who);
    await requireOpen(db, own);
    const { school, book, person } = who;
    const { work } = own.assessment;
    const { id } = await begin(db, own, who);
    const now = (await findSubmission(db, school, book, id))!;
    const known = now.files.find((f) => f.id === write.id);
    if (known) {
      if (known.name !== write.name || known.bytes !== write.bytes)
        throw new Refusal('already-there', 'Another file came under this id. Choose it again.');
      return viewOf(now, work);
    }
    if (work.kinds && !work.kinds.includes('files'))
      throw new Refusal('bad-request', 'This is not handed in as files. Nothing was changed.');
    if (Buffer.byteLength(write.name) > 255)
      throw new Refusal('bad-request', 'The name of this file is longer than a file’s name can be.');
    const most = Math.min(room.file, (work.mostMegabytes ?? Infinity) * MEGABYTE);
    if (write.bytes > most)
      throw new Refusal(
        'bad-request',
        `${write.name} has ${megabytes(write.bytes)}; one file may have ${megabytes(most)}.`,
      );
    const mostFiles = work.mostFiles ?? room.files;
    if (now.files.length >= mostFiles)
      throw new Refusal('bad-request', `${counted(mostFiles, 'file')} at most. Take one out first.`);
    await requireRoom(db, room, own, write);
    const upload = await files.begin(db, school, person, write.bytes, room.school);
    await insertFile(db, school, book, { submission: id, id: write.id, name: write.name, bytes: write.bytes, upload });
    await bumpVersion(db, school, book, id);
    return viewOf((await findSubmission(db, school, book, id))!, work);
  });
}

async function requireRoom(db: Db, room: Room, { book, student }: OwnPlace, write: FileWrite): Promise<void> {
  const taken = await roomTaken(db, book.row.school, book.row.id, student.id);
  if (taken.bytes + write.bytes > room.student)
    throw new Refusal(
      'bad-request',
      `With ${write.name} you would have ${megabytes(taken.bytes + write.bytes)} in this book; ${megabytes(room.student)} is what there is room for. Take out what you do not hand in, or ask your teacher.`,
    );
  if (taken.book + write.bytes > room.book)
    throw new Refusal('bad-request', 'There is no room left in this book. Tell your teacher; nothing was lost.');
}

const megabytes = (bytes: number): string => `${(Math.ceil(bytes / 100_000) / 10).toFixed(1)} MB`;

/** Takes a file out of what is not handed in yet. */
export function removeFile(pool: pg.Pool, who: Student, file: string): Promise<Submission | null> {
  return transaction(pool, async (db) => {
    const own = await place(db, who);
    const { school, book } = who;
    const begun = (await submissionsOf(db, school, book, own.assessment.id, own.student.id)).find(
      (s) => s.state === 'begun',
    );
    if (!begun) return null;
    const held = await holdSubmission(db, school, book, begun.id);
    if (held?.state !== 'begun')
      throw new Refusal('stale', 'This was handed in meanwhile. What was handed in stays as it is.');
    if (await deleteFile(db, school, book, begun.id, file)) await bumpVersion(db, school, book, begun.id);
    return viewOf((await findSubmission(db, school, book, begun.id))!, own.assessment.work);
  });
}

/** All bytes of an upload are here: hashes them, tells their type, and notes it. Once or several times, the same. */
export async function settleUpload(
  pool: pg.Pool,
  files: FileStore,
  who: { school: string; person: string },
  upload: string,
): Promise<void> {
  const { school, person } = who;
  const content = await settleContent(files, school, upload);
  await transaction(pool, async (db) => {
    if (await nameHandout(db, school, upload, content)) return;
    if (await nameFeedbackAttachment(db, school, upload, content)) return;
    const at = await fileOfUpload(db, school, upload);
    if (!at) return;
    // The page and the end of the upload may both come by here.
    if (!(await nameContent(db, school, upload, content))) return;
    await insertTrace(db, school, at.book, {
      submission: at.submission,
      person,
      kind: 'file-came',
      detail: { file: at.file, sha256: content.sha256 },
    });
  });
}

/** Hashes what is all there and was not: the line, or the server, ended between the last byte and that. */
export async function settleAll(
  pool: pg.Pool,
  files: FileStore,
  who: { school: string; person: string },
  submission: { files: readonly Pick<FileRow, 'sha256' | 'received' | 'bytes' | 'upload'>[] },
): Promise<boolean> {
  const open = submission.files.filter((f) => f.sha256 === null && f.received === f.bytes);
  for (const f of open) await settleUpload(pool, files, who, f.upload);
  return open.length > 0;
}
