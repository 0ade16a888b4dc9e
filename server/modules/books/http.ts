import { bookList, bookPage } from './book-page';
import { BookPage, Sheet, BookList } from '@contract/books';
import { assemble } from './assemble';
import { snapshot } from '../../kernel/database';
import { route, type Route } from '../../http/route';
export const booksRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}',
    permission: 'book-read',
    says: 'Everything of a book that is not a score.',
    answer: BookPage,
    async does({ pool, school, params, role }) {
      return snapshot(pool, (db) => bookPage(db, school, params['book']!, role));
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/sheet',
    permission: 'book-read',
    says: 'The book document with the version of each entry and whether students see it.',
    answer: Sheet,
    async does({ pool, school, params }) {
      const { row, document, cells } = await snapshot(pool, (db) => assemble(db, school, params['book']!));
      return { seq: row.seq, document, versions: cells.map((c) => c.version), out: cells.map((c) => c.out) };
    },
  }),
  route({
    method: 'get',
    path: '/books',
    permission: 'staff-or-office',
    says: 'The books of the person, those put away too, and the terms of the school.',
    answer: BookList,
    async does({ pool, school, person }) {
      return bookList(pool, school, person);
    },
  }),
];
