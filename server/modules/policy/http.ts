import {
  BookDepartures,
  SchoolDepartures,
  SchoolRulesMade,
  SchoolRulesState,
  SchoolRulesVersions,
  SchoolRulesWrite,
  SchoolTrialWrite,
  SchoolTurn,
  TurnMovers,
} from '@contract/policy';
import { departuresOfBook, makeSchoolRules, schoolDepartures, schoolRulesNow, trySchoolRules } from './policy';
import { dropTurn, turnMovers, turnNow } from '../policy-rollout';
import { snapshot } from '../../kernel/database';
import { allVersions } from './sql/policy';
import { route, type Context, type Route } from '../../http/route';
import { Done } from '@contract/wire';

const office = ({ school, person }: Pick<Context<unknown>, 'school' | 'person'>) => ({ school, person: person.id });

/** `wake`: called when there is something to work out. */
export const policyRoutes = (wake: () => void): Route[] => [
  route({
    method: 'get',
    path: '/school-rules',
    permission: 'staff-or-office',
    says: 'The rules that the school keeps for its books, with the calendar of its closed days.',
    answer: SchoolRulesState,
    does: ({ pool, school }) => schoolRulesNow(pool, school),
  }),
  route({
    method: 'put',
    path: '/school-rules',
    permission: 'office',
    says: 'Make a version of the school’s rules, with a reason; it goes through the books of terms that have not ended.',
    body: SchoolRulesWrite,
    answer: SchoolRulesMade,
    async does(c) {
      const made = await makeSchoolRules(c.pool, office(c), c.body);
      wake();
      return made;
    },
  }),
  route({
    method: 'get',
    path: '/school-rules/versions',
    permission: 'office',
    says: 'Every version of the school’s rules, who made it, when and why; the last first.',
    answer: SchoolRulesVersions,
    does: ({ pool, school }) => allVersions(pool, school),
  }),
  route({
    method: 'get',
    path: '/school-rules/departures',
    permission: 'office',
    says: 'The books that depart from the school’s rules: in what, since when, by whom and why.',
    answer: SchoolDepartures,
    does: ({ pool, school }) => snapshot(pool, (db) => schoolDepartures(db, school)),
  }),
  route({
    method: 'post',
    path: '/school-rules/turns',
    permission: 'office',
    says: 'Begin a trial of rules over all books. It is worked out beside everything else, and changes nothing.',
    body: SchoolTrialWrite,
    answer: Done,
    status: 201,
    async does(c) {
      await trySchoolRules(c.pool, office(c), c.body);
      wake();
      return { done: true as const };
    },
  }),
  route({
    method: 'get',
    path: '/school-rules/turns/{turn}',
    permission: 'office',
    says: 'How far a trial is, or a version on its way through the books.',
    answer: SchoolTurn,
    does: (c) => snapshot(c.pool, (db) => turnNow(db, office(c), c.params['turn']!)),
  }),
  route({
    method: 'get',
    path: '/school-rules/turns/{turn}/books/{book}',
    permission: 'office',
    says: 'Who would move in one book, the largest moves first.',
    answer: TurnMovers,
    does: (c) => snapshot(c.pool, (db) => turnMovers(db, office(c), c.params['turn']!, c.params['book']!)),
  }),
  route({
    method: 'delete',
    path: '/school-rules/turns/{turn}',
    permission: 'office',
    says: 'End a trial.',
    answer: Done,
    async does(c) {
      await dropTurn(c.pool, office(c), c.params['turn']!);
      return { done: true as const };
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/departures',
    permission: 'book-read',
    says: 'In what a book departs from the school’s rules: since when, by whom and why.',
    answer: BookDepartures,
    does: ({ pool, school, params }) =>
      snapshot(pool, async (db) =>
        departuresOfBook(db, school, params['book']!, (await schoolRulesNow(db, school)).rules),
      ),
  }),
];
