import type { ReleaseRunner } from './release/release-runner';
import { ownDocument } from './own-document';
import { previewRelease } from './release/releases';
import { LONG_LIST, route, whoOf, type Route } from '../../http/route';
import { studentBook, studentBooks } from './student-book';
import { snapshot, transaction } from '../../kernel/database';
import {
  Rehearsal,
  RehearsalWrite,
  Released,
  ReleasePreview,
  ReleasePreviewWrite,
  ReleaseWrite,
  WithdrawWrite,
  OwnDocument,
  StudentBook,
  StudentBooks,
} from '@contract/statements';
import { Refusal } from '../../kernel/refusal';
import type { FileStore } from '../../kernel/files/file-store';
import { rehearse } from './rehearsal';
import { slipRoutes } from './slips/slip-http';
import { enrolmentsOf, studentsOf } from '../books';

/** `run`: does releases and withdrawals. */
export const statementsRoutes = (run: ReleaseRunner, files: FileStore): Route[] => [
  ...slipRoutes(files),
  route({
    method: 'post',
    path: '/books/{book}/release/preview',
    permission: 'book-manage',
    names: 'named',
    summary: 'Whose standing a release would change, by its scores or by the rules. Nothing is released.',
    body: ReleasePreviewWrite,
    maxBytes: LONG_LIST,
    answer: ReleasePreview,
    handler: (c) => previewRelease(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/release',
    permission: 'book-manage',
    names: 'named',
    summary: 'Release one assessment to one, some or all students.',
    body: ReleaseWrite,
    maxBytes: LONG_LIST,
    answer: Released,
    handler: (c) => run(c.pool, { kind: 'release', who: whoOf(c), write: c.body }),
  }),
  route({
    method: 'post',
    path: '/books/{book}/withdraw',
    permission: 'book-manage',
    names: 'named',
    summary: 'Hide a released assessment again.',
    body: WithdrawWrite,
    maxBytes: LONG_LIST,
    answer: Released,
    handler: (c) => run(c.pool, { kind: 'withdraw', who: whoOf(c), write: c.body }),
  }),
  route({
    method: 'get',
    path: '/my/books',
    permission: 'student',
    summary: 'The books of the student who asks.',
    answer: StudentBooks,
    handler: ({ pool, school, person }) => studentBooks(pool, school, person.id),
  }),
  route({
    method: 'get',
    path: '/my/books/{book}',
    permission: 'student',
    summary: 'What the student who asks sees of one book.',
    answer: StudentBook,
    handler: ({ pool, school, person, params }) =>
      snapshot(pool, (db) => studentBook(db, school, person.id, params['book']!)),
  }),
  route({
    method: 'get',
    path: '/my/books/{book}/document',
    permission: 'student',
    summary: 'What is released to the student who asks as a book document, for working out what they would need.',
    answer: OwnDocument,
    handler: ({ pool, school, person, params }) =>
      snapshot(pool, async (db) => {
        const own = (await enrolmentsOf(db, school, person.id, true)).find((e) => e.book === params['book']);
        if (!own) throw new Refusal('not-found', 'You have no such book.');
        return ownDocument(db, { school, book: own.book, enrolment: own.enrolment });
      }),
  }),
  route({
    method: 'get',
    path: '/books/{book}/as-student/{enrolment}/document',
    permission: 'book-read',
    names: 'named',
    summary: 'The same of one student, as they get it.',
    answer: OwnDocument,
    handler: ({ pool, school, params, names }) =>
      snapshot(pool, async (db) => {
        const [book, enrolment] = [params['book']!, params['enrolment']!];
        if (!(await studentsOf(db, school, book)).some((s) => s.id === enrolment))
          throw new Refusal('not-found', 'There is no such student in this book.');
        const { document, titles } = await ownDocument(db, { school, book, enrolment });
        const entries = document?.entries.filter((e) => names.opens(e.item)) ?? [];
        return { document: document && { ...document, entries }, titles };
      }),
  }),
  route({
    method: 'get',
    path: '/books/{book}/as-student/{enrolment}',
    permission: 'book-read',
    names: 'aware',
    summary: 'The book as one student of it sees it.',
    answer: StudentBook,
    async handler({ pool, school, params, names }) {
      const book = params['book']!;
      return snapshot(pool, async (db) => {
        const student = (await studentsOf(db, school, book)).find((s) => s.id === params['enrolment']);
        if (!student) throw new Refusal('not-found', 'There is no such student in this book.');
        const read = await studentBook(db, school, student.person, book);
        // When it was handed in would say whose it is.
        return { ...read, work: read.work.filter((w) => names.opens(w.id)) };
      });
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/rehearsal',
    permission: 'book-read',
    names: 'free',
    summary: 'The made-up student of the person asking, and what they would read.',
    answer: Rehearsal,
    handler: ({ pool, school, params, person }) =>
      snapshot(pool, (db) => rehearse(db, { school, book: params['book']!, person }, null)),
  }),
  route({
    method: 'put',
    path: '/books/{book}/rehearsal',
    permission: 'book-read',
    names: 'free',
    summary: 'Give the made-up student something, and see what they would read. Nothing of it stands in the book.',
    body: RehearsalWrite,
    maxBytes: LONG_LIST,
    answer: Rehearsal,
    handler: ({ pool, school, params, person, body }) =>
      transaction(pool, (db) => rehearse(db, { school, book: params['book']!, person }, body)),
  }),
];
