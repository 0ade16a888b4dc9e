import type pg from 'pg';
import {
  SubmissionOpened,
  AcceptWrite,
  Arrivals,
  DueList,
  FileWrite,
  HandedIn,
  HandInWrite,
  MoveWrite,
  StudentAssessment,
  Submission,
  SubmissionHistory,
  TakeBackWrite,
  Where,
  WhereStudents,
  WorkWrite,
} from '@contract/work/submissions';
import { Done, Maybe } from '@contract/wire';
import { sendDownload } from '../../http/download';
import { resumeUpload } from '../../http/resumable-upload';
import { queried, route, whoOf, type Call, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import type { FileStore } from '../../kernel/files/file-store';
import { Refusal } from '../../kernel/refusal';
import { enrolmentsOf } from '../books';
import { handoutFile } from '../instructions';
import { ownPlace } from './facts';
import { arrivals, noteOpened, submissionHistory, veiledView } from './arrivals';
import { acceptWork, handIn, takeBack } from './hand-in';
import { moveWork } from './move';
import { addFile, keepTyped, removeFile, settleUpload, type Student } from './uploads/parts';
import { findSubmission, type SubmissionRow } from './sql/submissions';
import { insertTrace } from './sql/traces';
import { whereIs, whereStudents } from './where-is';
import { dueList, studentAssessment } from './student-work';

const studentOf = ({ school, person, params }: Pick<Call<unknown>, 'school' | 'person' | 'params'>): Student => ({
  school,
  person: person.id,
  book: params['book']!,
  assessment: params['assessment']!,
});

const NO_FILE = 'There is no such file.';

function fileOf(s: SubmissionRow | null, id: string) {
  const file = s?.files.find((f) => f.id === id);
  if (!file || file.sha256 === null) throw new Refusal('not-found', NO_FILE);
  return { name: file.name, bytes: file.bytes, sha256: file.sha256 };
}

/** A file of a student's own; somebody else's is not there. */
async function ownFile(pool: pg.Pool, who: Student, submission: string, file: string) {
  const own = (await enrolmentsOf(pool, who.school, who.person, true)).find((e) => e.book === who.book);
  const s = own ? await findSubmission(pool, who.school, who.book, submission) : null;
  return fileOf(s?.enrolment === own?.enrolment ? s : null, file);
}

const WORK = '/my/books/{book}/assessments/{assessment}';

/** `failed` hears of what went wrong where no answer says it. */
export const submissionsRoutes = (files: FileStore, failed: (error: unknown) => void): Route[] => [
  route({
    method: 'get',
    path: '/my/due',
    permission: 'student',
    summary: 'What is due in all books of the student who asks.',
    answer: DueList,
    handler: ({ pool, school, person }) => snapshot(pool, (db) => dueList(db, school, person.id)),
  }),
  route({
    method: 'get',
    path: WORK,
    permission: 'student',
    summary: 'One assessment as the student who asks hands in: dates, what lateness would cost, what lies there.',
    answer: StudentAssessment,
    handler: (c) => studentAssessment(c.pool, files, studentOf(c)),
  }),
  route({
    method: 'put',
    path: `${WORK}/work`,
    permission: 'student',
    summary: 'What is typed, as it is typed. It is not handed in by that.',
    body: WorkWrite,
    maxBytes: 1_000_000,
    answer: Submission,
    handler: (c) => keepTyped(c.pool, studentOf(c), c.body),
  }),
  route({
    method: 'post',
    path: `${WORK}/files`,
    permission: 'student',
    summary: 'A file is to come: its upload is begun, once however often it is asked for.',
    body: FileWrite,
    answer: Submission,
    handler: (c) => addFile(c.pool, files, c.config.room, studentOf(c), c.body),
  }),
  route({
    method: 'delete',
    path: `${WORK}/files/{file}`,
    permission: 'student',
    summary: 'Take a file out of what is not handed in yet.',
    answer: Maybe(Submission),
    handler: (c) => removeFile(c.pool, studentOf(c), c.params['file']!),
  }),
  route({
    method: 'post',
    path: `${WORK}/hand-in`,
    permission: 'student',
    summary: 'Hand in all that lies there; the answer holds the receipt.',
    body: HandInWrite,
    answer: HandedIn,
    handler: (c) => handIn(c.pool, files, whoOf(c), studentOf(c), c.body),
  }),
  route({
    method: 'post',
    path: `${WORK}/take-back`,
    permission: 'student',
    summary: 'Take back what was handed in, before it is due and anybody has looked at it.',
    body: TakeBackWrite,
    answer: HandedIn,
    handler: (c) => takeBack(c.pool, whoOf(c), studentOf(c), c.body),
  }),
  route({
    method: 'get',
    path: '/my/books/{book}/submissions/{submission}/files/{file}',
    permission: 'student',
    summary: 'A file that the student who asks handed in, or is about to.',
    answer: 'application/octet-stream',
    async stream(c) {
      const file = await ownFile(c.pool, studentOf(c), c.params['submission']!, c.params['file']!);
      await sendDownload(c, files, file);
    },
  }),
  route({
    method: 'get',
    path: '/where/students',
    permission: 'staff-or-office',
    summary: 'Students of the asker’s books (the office: of the school) by `words` of their name or number.',
    answer: WhereStudents,
    handler: ({ pool, school, person, request }) =>
      snapshot(pool, (db) => whereStudents(db, school, person, queried(request, 'words') ?? '')),
  }),
  route({
    method: 'get',
    path: '/where',
    permission: 'staff-or-office',
    summary:
      'What became of the work of one `person`; of one `book` and `assessment` where those are said; null where nobody is named.',
    answer: Maybe(Where),
    handler: ({ pool, school, person, request }) =>
      snapshot(pool, (db) =>
        whereIs(db, school, person, {
          person: queried(request, 'person'),
          of: queried(request, 'of'),
          enrolment: queried(request, 'enrolment'),
          book: queried(request, 'book'),
          assessment: queried(request, 'assessment'),
        }),
      ),
  }),
  route({
    method: 'get',
    path: `${WORK}/handouts/{file}`,
    permission: 'student',
    summary: 'A file that goes with the assessment; of a worksheet a copy of one’s own, with one’s name.',
    answer: 'application/octet-stream',
    async stream(c) {
      const own = await ownPlace(c.pool, c.school, c.person.id, c.params['book']!, c.params['assessment']!, true);
      const name = [own.student.family, own.student.given].filter(Boolean).join(' ');
      await sendDownload(c, files, await handoutFile(c.pool, studentOf(c), c.params['file']!, name));
    },
  }),
  ...(['head', 'patch'] as const).map((method) =>
    route({
      method,
      path: '/uploads/{upload}',
      permission: 'signed-in',
      summary: 'An upload by the tus protocol: how far it is, and the next of its bytes.',
      answer: 'application/octet-stream',
      async stream(c) {
        const { school, person, params } = c;
        const upload = await files.find(school, params['upload']!);
        if (upload?.person !== person.id) throw new Refusal('not-found', 'There is no such upload.');
        const finished = (): Promise<void> => settleUpload(c.pool, files, { school, person: person.id }, upload.id);
        await resumeUpload(c, files, { finished, failed });
      },
    }),
  ),
  route({
    method: 'get',
    path: '/books/{book}/assessments/{assessment}/arrivals',
    permission: 'book-read',
    names: 'work',
    summary: 'Every student of the book with what came from them for one assessment.',
    answer: Arrivals,
    handler: ({ pool, school, params, person, names: { veil } }) =>
      snapshot(pool, (db) =>
        arrivals(db, { school, book: params['book']!, assessment: params['assessment']!, person: person.id, veil }),
      ),
  }),
  route({
    method: 'post',
    path: '/books/{book}/submissions/{submission}/opened',
    permission: 'book-read',
    names: 'work',
    summary:
      'What was handed in lies before somebody of the staff, or was looked through. It leaves a trace, once for each.',
    body: SubmissionOpened,
    answer: Done,
    async handler({ pool, school, params, person, body }) {
      const [book, submission] = [params['book']!, params['submission']!];
      await noteOpened(pool, { school, book, submission, person: person.id, through: body.through === true });
      return { done: true as const };
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/submissions/{submission}/accept',
    permission: 'book-work',
    names: 'work',
    summary: 'Take in what a student has begun and not handed in, with a reason.',
    body: AcceptWrite,
    answer: HandedIn,
    async handler(c) {
      const { veil } = c.names;
      try {
        const { submission } = await acceptWork(c.pool, files, whoOf(c), c.params['submission']!, c.body);
        return { submission: veiledView(submission, veil) };
      } catch (error) {
        if (!veil || !(error instanceof Refusal)) throw error;
        const { now } = error.more;
        throw new Refusal(error.code, error.detail, now ? { now: veiledView(now as Submission, veil) } : error.more);
      }
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/submissions/{submission}/move',
    permission: 'book-work',
    names: 'shown',
    summary: 'Move what was handed in to another assessment, here or in another book of the same student and staff.',
    body: MoveWrite,
    answer: HandedIn,
    handler: (c) => moveWork(c.pool, whoOf(c), c.params['submission']!, c.body),
  }),
  route({
    method: 'get',
    path: '/books/{book}/submissions/{submission}/history',
    permission: 'book-read',
    names: 'work',
    summary: 'All that happened to one submission, with its times.',
    answer: SubmissionHistory,
    handler: ({ pool, school, params, names: { veil } }) =>
      snapshot(pool, (db) =>
        submissionHistory(db, { school, book: params['book']!, submission: params['submission']!, veil }),
      ),
  }),
  route({
    method: 'get',
    path: '/books/{book}/submissions/{submission}/files/{file}',
    permission: 'book-read',
    names: 'work',
    summary:
      'A file that a student of the book handed in or has begun to. It leaves a trace; with ?ahead it is made ready for the staff of the book, who say by themselves when it lies before them.',
    answer: 'application/octet-stream',
    async stream(c) {
      const { pool, school, params, person } = c;
      const [book, submission] = [params['book']!, params['submission']!];
      const found = await findSubmission(pool, school, book, submission);
      const file = fileOf(found, params['file']!);
      const { veil } = c.names;
      const at = found!.files.findIndex((f) => f.id === params['file']);
      const ahead = c.request.query['ahead'] !== undefined && person.role !== 'administrator';
      const kind = ahead ? 'fetched' : 'opened';
      await insertTrace(pool, school, book, { submission, person: person.id, kind, detail: { file: params['file']! } });
      await sendDownload(c, files, veil ? { ...file, name: veil.fileName(file.name, at) } : file);
    },
  }),
];
