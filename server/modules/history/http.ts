import { Sheet } from '@contract/books';
import {
  Between,
  JournalLines,
  JournalPage,
  PutBackMade,
  PutBackPreview,
  PutBackWrite,
  UndoWrite,
} from '@contract/history';
import { journalPage, linesOf, queryOf } from './journal-page';
import { previewPutBack, putBack, step } from './put-back';
import { between, sheetAsOf, type AsOf } from './as-of';
import type { JournalKinds } from '../books';
import { snapshot } from '../../kernel/database';
import { Refusal } from '../../kernel/refusal';
import { LONG_LIST, route, whoOf, type Route } from '../../http/route';

/** A moment from the address: a line's number, or a time. */
function momentFrom(text: unknown, name: string): AsOf {
  if (typeof text === 'string' && /^\d{1,9}$/.test(text)) return { seq: Number(text) };
  if (typeof text === 'string' && /^\d{4}-\d\d-\d\dT/.test(text) && !Number.isNaN(Date.parse(text)))
    return { at: new Date(text).toISOString() };
  throw new Refusal(
    'bad-request',
    `“${name}” has to be the number of a line or a moment such as 2026-11-24T09:00:00Z.`,
  );
}

/** `kinds`: what the lines of journals are about. */
export const historyRoutes = (kinds: JournalKinds): Route[] => [
  route({
    method: 'get',
    path: '/books/{book}/journal',
    permission: 'book-read',
    names: 'named',
    summary:
      'The journal, the latest first, by enrolment, assessment, person, kind, from, to and words; `before` goes on.',
    answer: JournalPage,
    async handler({ pool, school, params, request, names }) {
      return journalPage(kinds, pool, school, params['book']!, queryOf(kinds, request.query), names);
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/journal/{batch}',
    permission: 'book-read',
    names: 'named',
    summary: 'All lines of one set of changes.',
    answer: JournalLines,
    handler: ({ pool, school, params, names }) => linesOf(pool, school, params['book']!, params['batch']!, names),
  }),
  route({
    method: 'get',
    path: '/books/{book}/journal/{batch}/put-back',
    permission: 'book-scores',
    names: 'aware',
    summary: 'What putting a set of changes back would do, and what stands on it since.',
    answer: PutBackPreview,
    handler: (c) => previewPutBack(kinds, c.pool, whoOf(c), c.params['batch']!, c.names),
  }),
  route({
    method: 'post',
    path: '/books/{book}/journal/{batch}/put-back',
    permission: 'book-scores',
    names: 'aware',
    summary: 'Put a set of changes back, or some lines of it.',
    body: PutBackWrite,
    maxBytes: LONG_LIST,
    answer: PutBackMade,
    handler: (c) => putBack(kinds, c.pool, whoOf(c), c.params['batch']!, { ...c.body, kind: 'restore' }, c.names),
  }),
  route({
    method: 'post',
    path: '/books/{book}/undo',
    permission: 'book-scores',
    names: 'aware',
    summary: 'Put back one’s own last change in the ledger.',
    body: UndoWrite,
    answer: PutBackMade,
    handler: (c) => step(kinds, c.pool, whoOf(c), c.body.operation, 'undo', c.names),
  }),
  route({
    method: 'post',
    path: '/books/{book}/redo',
    permission: 'book-scores',
    names: 'aware',
    summary: 'Make again what one’s last undo put back.',
    body: UndoWrite,
    answer: PutBackMade,
    handler: (c) => step(kinds, c.pool, whoOf(c), c.body.operation, 'redo', c.names),
  }),
  route({
    method: 'get',
    path: '/books/{book}/as-of',
    permission: 'book-read',
    names: 'named',
    summary: 'The sheet as it stood at a moment (`at`: a line’s number or a time).',
    answer: Sheet,
    handler: ({ pool, school, params, request, names }) =>
      snapshot(pool, (db) =>
        sheetAsOf(db, school, params['book']!, momentFrom(request.query['at'], 'at'), names.hidden),
      ),
  }),
  route({
    method: 'get',
    path: '/books/{book}/between',
    permission: 'book-read',
    names: 'named',
    summary: 'What differs between two moments (`from`, `to`): cells, rules, standings.',
    answer: Between,
    handler: ({ pool, school, params, request, names }) =>
      snapshot(pool, (db) =>
        between(
          db,
          school,
          params['book']!,
          momentFrom(request.query['from'], 'from'),
          momentFrom(request.query['to'], 'to'),
          names.hidden,
        ),
      ),
  }),
];
