import { bookList, bookPage } from './book-page';
import { BookPage, Sheet, BookList } from '@contract/books';
import { sheetOf } from './sheet';
import { snapshot } from '../../kernel/database';
import { route, type Route } from '../../http/route';
export const booksRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}',
    permission: 'book-read',
    names: 'aware',
    summary: 'Everything of a book that is not a score.',
    answer: BookPage,
    async handler({ pool, school, params, role, names }) {
      return snapshot(pool, (db) => bookPage(db, school, params['book']!, role, names));
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/sheet',
    permission: 'book-read',
    names: 'aware',
    summary: 'The book document with the version of each entry and whether students see it.',
    answer: Sheet,
    async handler({ pool, school, params, names }) {
      return snapshot(pool, (db) => sheetOf(db, school, params['book']!, names));
    },
  }),
  route({
    method: 'get',
    path: '/books',
    permission: 'staff-or-office',
    summary: 'The books of the person, those put away too, and the terms of the school.',
    answer: BookList,
    async handler({ pool, school, person }) {
      return bookList(pool, school, person);
    },
  }),
];
