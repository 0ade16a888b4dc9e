import { Type } from '@sinclair/typebox';
import { Refusal } from '../../kernel/refusal';
import { writeStudentGroup } from './student-groups';
import { LONG_LIST, route, whoOf, type Route } from '../../http/route';
import { saveView } from './saved-views';
import { viewsOf, deleteView } from './sql';
import { SavedView, SavedViewWrite, StudentGroup, StudentGroupGone, StudentGroupWrite } from '@contract/groups';

export const groupsRoutes: Route[] = [
  route({
    method: 'put',
    path: '/books/{book}/groups/{group}',
    permission: 'book-scores',
    names: 'named',
    summary: 'Make or change a group of students in the book. Version 0 makes it.',
    body: StudentGroupWrite,
    maxBytes: LONG_LIST,
    answer: Type.Array(StudentGroup),
    handler(c) {
      requireId(c.params['group']!);
      return writeStudentGroup(c.pool, whoOf(c), c.params['group']!, c.body);
    },
  }),
  route({
    method: 'delete',
    path: '/books/{book}/groups/{group}',
    permission: 'book-scores',
    names: 'named',
    summary: 'Take a group away. Its students stay.',
    body: StudentGroupGone,
    answer: Type.Array(StudentGroup),
    handler: (c) => writeStudentGroup(c.pool, whoOf(c), c.params['group']!, { ...c.body, title: null }),
  }),
  route({
    method: 'put',
    path: '/books/{book}/views/{view}',
    permission: 'book-read',
    names: 'free',
    summary: 'Keep a way of looking at the ledger, for oneself.',
    body: SavedViewWrite,
    answer: Type.Array(SavedView),
    async handler({ pool, school, person, params, body }) {
      requireId(params['view']!);
      return saveView(pool, { school, book: params['book']!, person: person.id }, { id: params['view']!, ...body });
    },
  }),
  route({
    method: 'delete',
    path: '/books/{book}/views/{view}',
    permission: 'book-read',
    names: 'free',
    summary: 'Forget a way of looking.',
    answer: Type.Array(SavedView),
    async handler({ pool, school, person, params }) {
      await deleteView(pool, school, params['book']!, person.id, params['view']!);
      return viewsOf(pool, school, params['book']!, person.id);
    },
  }),
];

function requireId(id: string): void {
  if (!/^[A-Za-z0-9._-]{1,64}$/.test(id))
    throw new Refusal('bad-request', `“${id.slice(0, 70)}” cannot be an id. Nothing was changed.`);
}
