import { Desk, Office } from '@contract/overview';
import { deskOf } from './desk';
import { officeOf } from './office';
import { snapshot } from '../../kernel/database';
import { route, type Route } from '../../http/route';
export const overviewRoutes: Route[] = [
  route({
    method: 'get',
    path: '/desk',
    permission: 'staff',
    summary: 'What waits, over all books of the person.',
    answer: Desk,
    handler: ({ pool, school, person }) => snapshot(pool, (db) => deskOf(db, school, person.id)),
  }),
  route({
    method: 'get',
    path: '/office',
    permission: 'office',
    summary: 'All books of the school and how far each is.',
    answer: Office,
    handler: ({ pool, school }) => snapshot(pool, (db) => officeOf(db, school)),
  }),
];
