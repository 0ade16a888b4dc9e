import { Made, NewPeople, Done } from '@contract/people';
import { Refusal } from '../../kernel/refusal';
import { transaction } from '../../kernel/database';
import { route, type Route } from '../../http/route';
import { insertPeople, setWantsReasons } from './sql/persons';
import { hashPassword } from './password';
import { SchoolSettings } from '@contract/roster';
export const officeAccountRoutes: Route[] = [
  route({
    method: 'post',
    path: '/people',
    permission: 'office',
    says: 'Add people, all or none. A password of null makes somebody who cannot sign in yet.',
    body: NewPeople,
    answer: Made,
    status: 201,
    async does({ pool, school, body }) {
      const logins = new Set(body.people.map((p) => p.login));
      if (logins.size < body.people.length)
        throw new Refusal('bad-request', 'Two of these people have the same sign-in name. Nobody was added.');
      const hashes = await Promise.all(body.people.map((p) => (p.password === null ? null : hashPassword(p.password))));
      const rows = body.people.map(({ password: _p, ...p }, i) => ({ ...p, passwordHash: hashes[i]! }));
      const taken = await transaction(pool, (db) => insertPeople(db, school, rows));
      if (taken.length > 0)
        throw new Refusal(
          'already-there',
          `${taken.slice(0, 5).join(', ')} ${taken.length === 1 ? 'is' : 'are'} in use already. Nobody was added.`,
        );
      return { made: rows.length };
    },
  }),
  route({
    method: 'patch',
    path: '/school',
    permission: 'office',
    says: 'Whether every exception needs a reason.',
    body: SchoolSettings,
    answer: Done,
    async does({ pool, school, body }) {
      await setWantsReasons(pool, school, body.wantsReasons);
      return { done: true as const };
    },
  }),
];
