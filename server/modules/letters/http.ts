import { Letters, LetterWrite, LetterWritten } from '@contract/mail';
import { LONG_LIST, route, whoOf, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import { lettersOf, writeLetter } from './letters';

export const letterRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}/letters',
    permission: 'book-read',
    summary:
      'What was written to students of the book, and what could not be delivered of it; `assessment`: about that alone.',
    answer: Letters,
    handler: ({ pool, school, params, request }) => {
      const asked = request.query['assessment'];
      const assessment = typeof asked === 'string' ? asked : null;
      return snapshot(pool, (db) => lettersOf(db, school, params['book']!, assessment));
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/letters',
    permission: 'book-manage',
    summary: 'Write to students of the book: each reads it here and by mail.',
    body: LetterWrite,
    maxBytes: LONG_LIST,
    answer: LetterWritten,
    handler: (c) => writeLetter(c.pool, whoOf(c), c.body),
  }),
];
