import { previewRelease, release, withdraw } from './releases';
import { route, whoOf, type Route } from '../../http/route';
import { myBook, myBooks } from './student-view';
import { snapshot, transaction } from '../../kernel/database';
import {
  Rehearsal,
  RehearsalWrite,
  Released,
  ReleasePreview,
  ReleasePreviewWrite,
  ReleaseWrite,
  WithdrawWrite,
  MyBook,
  MyBooks,
} from '@contract/statements';
import { Refusal } from '../../kernel/refusal';
import { rehearse } from './rehearsal';
import { studentsOf } from '../books';
export const statementsRoutes: Route[] = [
  route({
    method: 'post',
    path: '/books/{book}/release/preview',
    permission: 'book-manage',
    says: 'Whose standing a release would change, by its scores or by the rules. Nothing is released.',
    body: ReleasePreviewWrite,
    answer: ReleasePreview,
    does: (c) => previewRelease(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/release',
    permission: 'book-manage',
    says: 'Release one assessment to one, some or all students.',
    body: ReleaseWrite,
    answer: Released,
    does: (c) => release(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/withdraw',
    permission: 'book-manage',
    says: 'Hide a released assessment again.',
    body: WithdrawWrite,
    answer: Released,
    does: (c) => withdraw(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'get',
    path: '/my/books',
    permission: 'student',
    says: 'The books of the student who asks.',
    answer: MyBooks,
    does: ({ pool, school, person }) => myBooks(pool, school, person.id),
  }),
  route({
    method: 'get',
    path: '/my/books/{book}',
    permission: 'student',
    says: 'What the student who asks sees of one book.',
    answer: MyBook,
    does: ({ pool, school, person, params }) => snapshot(pool, (db) => myBook(db, school, person.id, params['book']!)),
  }),
  route({
    method: 'get',
    path: '/books/{book}/as-student/{enrolment}',
    permission: 'book-read',
    says: 'The book as one student of it sees it.',
    answer: MyBook,
    async does({ pool, school, params }) {
      const book = params['book']!;
      return snapshot(pool, async (db) => {
        const student = (await studentsOf(db, school, book)).find((s) => s.id === params['enrolment']);
        if (!student) throw new Refusal('not-found', 'There is no such student in this book.');
        return myBook(db, school, student.person, book);
      });
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/rehearsal',
    permission: 'book-read',
    says: 'The made-up student of the person asking, and what they would read.',
    answer: Rehearsal,
    does: ({ pool, school, params, person }) =>
      snapshot(pool, (db) => rehearse(db, { school, book: params['book']!, person }, null)),
  }),
  route({
    method: 'put',
    path: '/books/{book}/rehearsal',
    permission: 'book-read',
    says: 'Give the made-up student something, and see what they would read. Nothing of it stands in the book.',
    body: RehearsalWrite,
    answer: Rehearsal,
    does: ({ pool, school, params, person, body }) =>
      transaction(pool, (db) => rehearse(db, { school, book: params['book']!, person }, body)),
  }),
];
