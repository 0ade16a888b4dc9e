import { BookSettings, NewBook, BookCopy } from '@contract/books';
import { NewTerm } from '@contract/accounts';
import { setBook, makeBook, copyBook } from './book-lifecycle';
import { LONG_LIST, route, whoOf, type Route } from '../../http/route';
import { makeTerm } from './terms';
import { Done, Made } from '@contract/wire';
export const bookLifecycleRoutes: Route[] = [
  route({
    method: 'patch',
    path: '/books/{book}',
    permission: 'book-own',
    names: 'free',
    summary: 'Show students their standing, or not; give the book another title; put it away, or take it out again.',
    body: BookSettings,
    answer: Done,
    handler: (c) => setBook(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'post',
    path: '/terms',
    permission: 'office',
    summary: 'Make a term.',
    body: NewTerm,
    answer: Made,
    status: 201,
    async handler({ pool, school, body }) {
      await makeTerm(pool, school, body);
      return { made: 1 };
    },
  }),
  route({
    method: 'post',
    path: '/books',
    permission: 'staff-or-office',
    summary: 'Make a book with its sections, staff and rules. A teacher who makes one teaches it.',
    body: NewBook,
    maxBytes: LONG_LIST,
    answer: Made,
    status: 201,
    async handler({ pool, school, person, body }) {
      await makeBook(pool, { school, id: person.id, role: person.role }, body);
      return { made: 1 };
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/copies',
    permission: 'book-read',
    names: 'free',
    summary: 'Another book with the rules, sections and assessments of this one, without its people.',
    body: BookCopy,
    answer: Made,
    status: 201,
    async handler({ pool, school, person, params, body }) {
      await copyBook(pool, { school, id: person.id, role: person.role }, params['book']!, body);
      return { made: 1 };
    },
  }),
];
