import {
  BatchMade,
  Batches,
  ChangesMade,
  ChangesWrite,
  EntryState,
  EntryWrite,
  IntakeWrite,
  ExceptionList,
  OverrideState,
  OverrideWrite,
} from '@contract/scores';
import { applyChanges, applyIntake, changeWithReason } from './cell-batches';
import { exceptionsOf } from './exceptions';
import type { ScoreBatcher } from './score-batcher';
import { intakesOf } from '../../kernel/journal/sql/batches';
import { personName } from '../accounts';
import { namesHidden } from '../hidden-names';
import type { CellChange } from '@core/book/change';
import { WHOLE_BOOK, route, whoOf, type Route } from '../../http/route';
import { snapshot } from '../../kernel/database';
import { mayExcept } from './exception-reasons';
import { setOverride } from './overrides';

/**
 * An extension or an excuse is given by name, also where nobody may see by name what stands there: that they asked is no
 * secret, what they handed in is.
 */
const isMadeUnseen = (set: string, change: CellChange): boolean =>
  set === 'exception' && (change.kind === 'dates' || change.kind === 'due' || change.kind === 'state');

export const scoresRoutes = (gate: ScoreBatcher): Route[] => [
  route({
    method: 'put',
    path: '/books/{book}/entries/{assessment}/{enrolment}',
    permission: 'book-scores',
    names: 'work',
    fastPath: true,
    summary: 'Change one cell. `version` is the one that was seen; a stale one gets 409 with what is kept now.',
    body: EntryWrite,
    answer: EntryState,
    async handler(c) {
      const wanted = {
        assessment: c.params['assessment']!,
        enrolment: c.params['enrolment']!,
        version: c.body.version,
        change: c.body.change,
      };
      const { operation, reason = '' } = c.body;
      if (reason === '' && !mayExcept(wanted.change))
        return gate.change(whoOf(c), operation, wanted, c.cachedAdmission);
      await c.cachedAdmission?.recheck();
      return changeWithReason(c.pool, whoOf(c), operation, wanted, reason);
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/intake',
    permission: 'book-manage',
    names: 'aware',
    summary: 'Bring many scores in, all or none.',
    body: IntakeWrite,
    maxBytes: WHOLE_BOOK,
    answer: BatchMade,
    handler: async (c) => {
      for (const { assessment } of c.body.cells) c.names.require(assessment);
      return applyIntake(c.pool, whoOf(c), c.body);
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/batches',
    permission: 'book-read',
    names: 'named',
    summary: 'What was brought in, the latest first.',
    answer: Batches,
    async handler({ pool, school, params }) {
      return (await intakesOf(pool, school, params['book']!)).map(({ family, given, ...b }) => ({
        ...b,
        madeBy: personName({ family, given }),
      }));
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/changes',
    permission: 'book-scores',
    names: 'aware',
    summary: 'Change cells together, all or none; they are put back together too.',
    body: ChangesWrite,
    maxBytes: WHOLE_BOOK,
    answer: ChangesMade,
    async handler(c) {
      const unseen = c.body.cells.filter((w) => !c.names.opens(w.assessment));
      for (const w of unseen) if (c.names.veil || !isMadeUnseen(c.body.kind, w.change)) throw namesHidden();
      const made = await applyChanges(c.pool, whoOf(c), c.body, new Set(unseen));
      return { ...made, cells: made.cells.filter((s) => c.names.opens(s.assessment)) };
    },
  }),
  route({
    method: 'get',
    path: '/books/{book}/exceptions',
    permission: 'book-read',
    names: 'aware',
    summary: 'Every exception of the book: who, what, why, since when.',
    answer: ExceptionList,
    async handler({ pool, school, params, names }) {
      const all = await snapshot(pool, (db) => exceptionsOf(db, school, params['book']!));
      // Why may name them.
      const lines = all.lines
        .filter((e) => names.opens(e.assessment))
        .map((e) => (names.veil ? { ...e, reason: '' } : e));
      return { ...all, lines, overrides: names.veil ? [] : all.overrides };
    },
  }),
  route({
    method: 'put',
    path: '/books/{book}/overrides/{enrolment}',
    permission: 'book-manage',
    names: 'named',
    summary: 'Set a final grade in the place of the one worked out, or end that.',
    body: OverrideWrite,
    answer: OverrideState,
    handler: (c) => setOverride(c.pool, whoOf(c), c.params['enrolment']!, c.body),
  }),
];
