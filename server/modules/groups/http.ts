import { SavedView, SavedViewWrite, StudentGroup, StudentGroupGone, StudentGroupWrite } from '@contract/live';
import { Type } from '@sinclair/typebox';
import { Refusal } from '../../kernel/refusal';
import { writeStudentGroup } from './student-groups';
import * as visits from '../presence';
import { route, whoOf, type Route } from '../../http/route';
import { viewsOf, writeView, deleteView } from './sql';

/** Views that one person may keep of one book. */
const VIEWS = 60;
export const groupsRoutes: Route[] = [
  route({
    method: 'put',
    path: '/books/{book}/groups/{group}',
    permission: 'book-scores',
    says: 'Make or change a group of students in the book. Version 0 makes it.',
    body: StudentGroupWrite,
    answer: Type.Array(StudentGroup),
    does(c) {
      requireId(c.params['group']!);
      return writeStudentGroup(c.pool, whoOf(c), c.params['group']!, c.body);
    },
  }),
  route({
    method: 'delete',
    path: '/books/{book}/groups/{group}',
    permission: 'book-scores',
    says: 'Take a group away. Its students stay.',
    body: StudentGroupGone,
    answer: Type.Array(StudentGroup),
    does: (c) => writeStudentGroup(c.pool, whoOf(c), c.params['group']!, { ...c.body, title: null }),
  }),
  route({
    method: 'put',
    path: '/books/{book}/views/{view}',
    permission: 'book-read',
    says: 'Keep a way of looking at the ledger, for oneself.',
    body: SavedViewWrite,
    answer: Type.Array(SavedView),
    async does({ pool, school, person, params, body }) {
      requireId(params['view']!);
      const book = params['book']!;
      const views = await viewsOf(pool, school, book, person.id);
      if (views.length >= VIEWS && !views.some((v) => v.id === params['view']))
        throw new Refusal('bad-request', `There are ${VIEWS} views already. Take one away first.`);
      await writeView(pool, school, book, person.id, { id: params['view']!, ...body });
      return viewsOf(pool, school, book, person.id);
    },
  }),
  route({
    method: 'delete',
    path: '/books/{book}/views/{view}',
    permission: 'book-read',
    says: 'Forget a way of looking.',
    answer: Type.Array(SavedView),
    async does({ pool, school, person, params }) {
      await deleteView(pool, school, params['book']!, person.id, params['view']!);
      return viewsOf(pool, school, params['book']!, person.id);
    },
  }),
];

function requireId(id: string): void {
  if (!/^[A-Za-z0-9._-]{1,64}$/.test(id))
    throw new Refusal('bad-request', `“${id.slice(0, 70)}” cannot be an id. Nothing was changed.`);
}
