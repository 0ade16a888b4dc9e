import { countUnread, markSeen, noticesOf } from './sql';
import { route, type Route } from '../../http/route';
import { Done } from '@contract/wire';
import { Notices, SeenWrite, Unread } from '@contract/notices';

export const noticesRoutes: Route[] = [
  route({
    method: 'get',
    path: '/my/notices',
    permission: 'signed-in',
    summary: 'What the person who asks was told about their books, the latest first.',
    answer: Notices,
    handler: ({ pool, school, person }) => noticesOf(pool, school, person.id),
  }),
  route({
    method: 'get',
    path: '/my/notices/unread',
    permission: 'signed-in',
    summary: 'How many of the latest hundred were not read yet.',
    answer: Unread,
    handler: async ({ pool, school, person }) => ({ unread: await countUnread(pool, school, person.id) }),
  }),
  route({
    method: 'put',
    path: '/my/notices/seen',
    permission: 'signed-in',
    summary: 'Say that these were read. Somebody else’s stay as they are.',
    body: SeenWrite,
    answer: Done,
    async handler({ pool, school, person, body }) {
      await markSeen(pool, school, person.id, body.notices);
      return { done: true as const };
    },
  }),
];
