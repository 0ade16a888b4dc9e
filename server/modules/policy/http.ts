import {
  BookDeviations,
  SchoolDeviations,
  SchoolRulesMade,
  SchoolRulesState,
  SchoolRulesVersions,
  SchoolRulesWrite,
  SchoolTrialWrite,
  PolicyRollout,
  RolloutMovers,
} from '@contract/policy';
import { deviationsOfBook, makeSchoolRules, schoolDeviations, schoolRulesNow, trySchoolRules } from './policy';
import { cancelRollout, rolloutMovers, rolloutStatus } from '../policy-rollout';
import { snapshot } from '../../kernel/database';
import { allVersions } from './sql/policy';
import { LONG_LIST, route, type Context, type Route } from '../../http/route';
import { Done } from '@contract/wire';

const office = ({ school, person }: Pick<Context<unknown>, 'school' | 'person'>) => ({ school, person: person.id });

export const policyRoutes: Route[] = [
  route({
    method: 'get',
    path: '/school-rules',
    permission: 'staff-or-office',
    summary: 'The rules that the school keeps for its books, with the calendar of its closed days.',
    answer: SchoolRulesState,
    handler: ({ pool, school }) => schoolRulesNow(pool, school),
  }),
  route({
    method: 'put',
    path: '/school-rules',
    permission: 'office',
    summary:
      'Make a version of the school’s rules, with a reason; it goes through the books of terms that have not ended.',
    body: SchoolRulesWrite,
    maxBytes: LONG_LIST,
    answer: SchoolRulesMade,
    handler: (c) => makeSchoolRules(c.pool, office(c), c.body),
  }),
  route({
    method: 'get',
    path: '/school-rules/versions',
    permission: 'office',
    summary: 'Every version of the school’s rules, who made it, when and why; the last first.',
    answer: SchoolRulesVersions,
    handler: ({ pool, school }) => allVersions(pool, school),
  }),
  route({
    method: 'get',
    path: '/school-rules/deviations',
    permission: 'office',
    summary: 'The books that depart from the school’s rules: in what, since when, by whom and why.',
    answer: SchoolDeviations,
    handler: ({ pool, school }) => snapshot(pool, (db) => schoolDeviations(db, school)),
  }),
  route({
    method: 'post',
    path: '/school-rules/rollouts',
    permission: 'office',
    summary: 'Begin a trial of rules over all books. It is worked out beside everything else, and changes nothing.',
    body: SchoolTrialWrite,
    maxBytes: LONG_LIST,
    answer: Done,
    status: 201,
    async handler(c) {
      await trySchoolRules(c.pool, office(c), c.body);
      return { done: true as const };
    },
  }),
  route({
    method: 'get',
    path: '/school-rules/rollouts/{rollout}',
    permission: 'office',
    summary: 'How far a trial is, or a version on its way through the books.',
    answer: PolicyRollout,
    handler: (c) => snapshot(c.pool, (db) => rolloutStatus(db, office(c), c.params['rollout']!)),
  }),
  route({
    method: 'get',
    path: '/school-rules/rollouts/{rollout}/books/{book}',
    permission: 'office',
    summary: 'Who would move in one book, the largest moves first.',
    answer: RolloutMovers,
    handler: (c) => snapshot(c.pool, (db) => rolloutMovers(db, office(c), c.params['rollout']!, c.params['book']!)),
  }),
  route({
    method: 'delete',
    path: '/school-rules/rollouts/{rollout}',
    permission: 'office',
    summary: 'End a trial.',
    answer: Done,
    async handler(c) {
      await cancelRollout(c.pool, office(c), c.params['rollout']!);
      return { done: true as const };
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/deviations',
    permission: 'book-read',
    names: 'free',
    summary: 'In what a book departs from the school’s rules: since when, by whom and why.',
    answer: BookDeviations,
    handler: ({ pool, school, params }) =>
      snapshot(pool, async (db) =>
        deviationsOfBook(db, school, params['book']!, (await schoolRulesNow(db, school)).rules),
      ),
  }),
];
