import { Desk, Office } from '@contract/overview';
import { deskOf, officeOf } from './summary';
import { snapshot } from '../../kernel/database';
import { route, type Route } from '../../http/route';
export const overviewRoutes: Route[] = [
  route({
    method: 'get',
    path: '/desk',
    permission: 'staff',
    says: 'What waits, over all books of the person.',
    answer: Desk,
    does: ({ pool, school, person }) => snapshot(pool, (db) => deskOf(db, school, person.id)),
  }),
  route({
    method: 'get',
    path: '/office',
    permission: 'office',
    says: 'All books of the school and how far each is.',
    answer: Office,
    does: ({ pool, school }) => snapshot(pool, (db) => officeOf(db, school)),
  }),
];
