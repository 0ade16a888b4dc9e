import { ExceptionList, OverrideState, OverrideWrite } from '@contract/exceptions';
import { exceptionsOf, setOverride } from '../../domain/exceptions';
import { snapshot } from '../../store/database';
import { route, whoOf, type Route } from '../route';

export const exceptionRoutes: Route[] = [
  route({
    method: 'get',
    path: '/books/{book}/exceptions',
    permission: 'book-read',
    says: 'Every exception of the book: who, what, why, since when.',
    answer: ExceptionList,
    does: ({ pool, school, params }) => snapshot(pool, (db) => exceptionsOf(db, school, params['book']!)),
  }),
  route({
    method: 'put',
    path: '/books/{book}/overrides/{enrolment}',
    permission: 'book-manage',
    says: 'Set a final grade in the place of the one worked out, or end that.',
    body: OverrideWrite,
    answer: OverrideState,
    does: (c) => setOverride(c.pool, whoOf(c), c.params['enrolment']!, c.body),
  }),
];
