import { BatchMade, Batches, ChangesMade, ChangesWrite, EntryState, EntryWrite, IntakeWrite } from '@contract/entries';
import { Released, ReleasePreview, ReleasePreviewWrite, ReleaseWrite, WithdrawWrite } from '@contract/books';
import { applyChanges, applyIntake, changeWithReason } from '../../domain/entries';
import { mayExcept } from '../../domain/exceptions';
import { previewRelease, release, withdraw } from '../../domain/releases';
import type { ScoreGate } from '../../domain/score-gate';
import { intakesOf } from '../../store/batches';
import { personName } from '../../store/people';
import { route, whoOf, type Route } from '../route';

export const scoreRoutes = (gate: ScoreGate): Route[] => [
  route({
    method: 'put',
    path: '/books/{book}/entries/{assessment}/{enrolment}',
    permission: 'book-scores',
    straight: true,
    says: 'Change one cell. `version` is the one that was seen; a stale one gets 409 with what is kept now.',
    body: EntryWrite,
    answer: EntryState,
    async does(c) {
      const wanted = {
        assessment: c.params['assessment']!,
        enrolment: c.params['enrolment']!,
        version: c.body.version,
        change: c.body.change,
      };
      const { operation, reason = '' } = c.body;
      if (reason === '' && !mayExcept(wanted.change)) return gate.change(whoOf(c), operation, wanted, c.lately);
      await c.lately?.ask();
      return changeWithReason(c.pool, whoOf(c), operation, wanted, reason);
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/intake',
    permission: 'book-manage',
    says: 'Bring many scores in, all or none.',
    body: IntakeWrite,
    answer: BatchMade,
    does: (c) => applyIntake(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'get',
    path: '/books/{book}/batches',
    permission: 'book-read',
    says: 'What was brought in, the latest first.',
    answer: Batches,
    async does({ pool, school, params }) {
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
    says: 'Change cells together, all or none; they are put back together too.',
    body: ChangesWrite,
    answer: ChangesMade,
    does: (c) => applyChanges(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/release/preview',
    permission: 'book-manage',
    says: 'Whose standing a release would change, by its scores or by the rules. Nothing is released.',
    body: ReleasePreviewWrite,
    answer: ReleasePreview,
    does: (c) => previewRelease(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/release',
    permission: 'book-manage',
    says: 'Release one assessment to one, some or all students.',
    body: ReleaseWrite,
    answer: Released,
    does: (c) => release(c.pool, whoOf(c), c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/withdraw',
    permission: 'book-manage',
    says: 'Hide a released assessment again.',
    body: WithdrawWrite,
    answer: Released,
    does: (c) => withdraw(c.pool, whoOf(c), c.body),
  }),
];
