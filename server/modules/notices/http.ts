import { markSeen, noticesOf } from './sql';
import { route, type Route } from '../../http/route';
import { Done } from '@contract/wire';
import { Notices } from '@contract/notices';

export const noticesRoutes: Route[] = [
  route({
    method: 'get',
    path: '/my/notices',
    permission: 'student',
    summary: 'What the student was told about their books, the latest first.',
    answer: Notices,
    handler: ({ pool, school, person }) => noticesOf(pool, school, person.id),
  }),
  route({
    method: 'put',
    path: '/my/notices/{notice}/seen',
    permission: 'student',
    summary: 'Say that a notice was read.',
    answer: Done,
    async handler({ pool, school, person, params }) {
      await markSeen(pool, school, person.id, params['notice']!);
      return { done: true as const };
    },
  }),
];
