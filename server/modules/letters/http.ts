import { Letters, LetterWrite, LetterWritten } from '@contract/mail';
import { LONG_LIST, route, whoOf, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import { lettersOf, writeLetter } from './letters';

export const letterRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}/letters',
    permission: 'book-read',
    names: 'aware',
    summary:
      'What was written to students of the book, and what could not be delivered of it; `assessment`: about that alone.',
    answer: Letters,
    handler: async ({ pool, school, params, request, names }) => {
      const asked = request.query['assessment'];
      const assessment = typeof asked === 'string' ? asked : null;
      const letters = await snapshot(pool, (db) => lettersOf(db, school, params['book']!, assessment));
      // To whom one writes about an assessment says who has handed in nothing.
      const open = letters.filter((l) => names.opens(l.assessment));
      // Why a mail was refused names the address more often than not.
      const faultOf = (fault: string): string => (fault === '' ? '' : 'its mail was refused');
      return names.veil
        ? open.map((l) => ({ ...l, copies: l.copies.map((c) => ({ ...c, fault: faultOf(c.fault) })) }))
        : open;
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/letters',
    permission: 'book-manage',
    names: 'aware',
    summary: 'Write to students of the book: each reads it here and by mail.',
    body: LetterWrite,
    maxBytes: LONG_LIST,
    answer: LetterWritten,
    async handler(c) {
      c.names.require(c.body.assessment ?? null);
      return writeLetter(c.pool, whoOf(c), c.body);
    },
  }),
];
