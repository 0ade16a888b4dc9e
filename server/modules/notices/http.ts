import { markSeen, noticesOf } from './sql';
import { route, type Route } from '../../http/route';
import { Done } from '@contract/wire';
import { Notices } from '@contract/notices';

export const noticesRoutes: Route[] = [
  route({
    method: 'get',
    path: '/my/notices',
    permission: 'student',
    says: 'What the student was told about their books, the latest first.',
    answer: Notices,
    does: ({ pool, school, person }) => noticesOf(pool, school, person.id),
  }),
  route({
    method: 'put',
    path: '/my/notices/{notice}/seen',
    permission: 'student',
    says: 'Say that a notice was read.',
    answer: Done,
    async does({ pool, school, person, params }) {
      await markSeen(pool, school, person.id, params['notice']!);
      return { done: true as const };
    },
  }),
];
