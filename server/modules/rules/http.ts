import { KeptTrials, TrialWrite, RulesState, RulesWrite } from '@contract/rules';
import { Refusal } from '../../kernel/refusal';
import { makeRules } from './rules';
import { deleteTrial, putTrial, trialsOf } from './sql';
import { LONG_LIST, WHOLE_BOOK, route, whoOf, type Route } from '../../http/route';
import { Done } from '@contract/wire';
/** Trials that one person may keep in a book. */
const MOST = 20;

export const ruleRoutes: Route[] = [
  route({
    method: 'put',
    path: '/books/{book}/rules',
    permission: 'book-manage',
    names: 'named',
    summary: 'Make a new version of the rules, with a reason; and what was tried together with them.',
    body: RulesWrite,
    maxBytes: WHOLE_BOOK,
    answer: RulesState,
    handler: (c) => makeRules(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'get',
    path: '/books/{book}/trials',
    permission: 'book-read',
    names: 'named',
    summary: 'The trials that the person keeps beside the rules.',
    answer: KeptTrials,
    handler: (c) => trialsOf(c.pool, whoOf(c)),
  }),
  route({
    method: 'put',
    path: '/books/{book}/trials/{trial}',
    permission: 'book-manage',
    names: 'named',
    summary: 'Keep a trial beside the rules.',
    body: TrialWrite,
    maxBytes: LONG_LIST,
    answer: Done,
    async handler(c) {
      if (!/^[A-Za-z0-9._-]{1,64}$/.test(c.params['trial']!))
        throw new Refusal('bad-request', 'The trial’s id is not one. Nothing was kept.');
      if (!(await putTrial(c.pool, whoOf(c), c.params['trial']!, c.body, MOST)))
        throw new Refusal('bad-request', `${MOST} trials are kept already. Drop one first; nothing was kept.`);
      return { done: true as const };
    },
  }),
  route({
    method: 'delete',
    path: '/books/{book}/trials/{trial}',
    permission: 'book-manage',
    names: 'named',
    summary: 'Drop a kept trial.',
    answer: Done,
    async handler(c) {
      await deleteTrial(c.pool, whoOf(c), c.params['trial']!);
      return { done: true as const };
    },
  }),
];
