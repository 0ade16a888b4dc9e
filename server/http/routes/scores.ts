import { BatchMade, BatchUndo, Batches, EntryState, EntryWrite, IntakeWrite } from '@contract/entries';
import { Released, ReleaseWrite, WithdrawWrite } from '@contract/books';
import { applyIntake, changeOneCell, undoBatch } from '../../domain/entries';
import { release, withdraw } from '../../domain/releases';
import { batchesOf } from '../../store/journal';
import { personName } from '../../store/people';
import { route, type Context, type Route } from '../route';

const who = ({ school, person, params }: Context<never>) => ({ school, book: params['book']!, person: person.id });

export const scoreRoutes: Route[] = [
  route({
    method: 'put',
    path: '/books/{book}/entries/{assessment}/{enrolment}',
    permission: 'book-scores',
    says: 'Change one cell. `version` is the one that was seen; a stale one gets 409 with what is kept now.',
    body: EntryWrite,
    answer: EntryState,
    does: (c) =>
      changeOneCell(c.pool, who(c as Context<never>), c.body.operation, {
        assessment: c.params['assessment']!,
        enrolment: c.params['enrolment']!,
        version: c.body.version,
        change: c.body.change,
      }),
  }),
  route({
    method: 'post',
    path: '/books/{book}/intake',
    permission: 'book-manage',
    says: 'Bring many scores in, all or none.',
    body: IntakeWrite,
    answer: BatchMade,
    does: (c) => applyIntake(c.pool, who(c as Context<never>), c.body.operation, c.body.title, c.body.cells),
  }),
  route({
    method: 'get',
    path: '/books/{book}/batches',
    permission: 'book-read',
    says: 'What was brought in, the latest first.',
    answer: Batches,
    async does({ pool, school, params }) {
      return (await batchesOf(pool, school, params['book']!)).map(({ family, given, ...b }) => ({
        ...b,
        madeBy: personName({ family, given }),
      }));
    },
  }),
  route({
    method: 'post',
    path: '/books/{book}/batches/{batch}/undo',
    permission: 'book-manage',
    says: 'Put back everything that an intake changed.',
    body: BatchUndo,
    answer: BatchMade,
    does: (c) => undoBatch(c.pool, who(c as Context<never>), c.body.operation, c.params['batch']!),
  }),
  route({
    method: 'post',
    path: '/books/{book}/release',
    permission: 'book-manage',
    says: 'Release one assessment to one, some or all students.',
    body: ReleaseWrite,
    answer: Released,
    does: (c) => release(c.pool, who(c as Context<never>), c.body),
  }),
  route({
    method: 'post',
    path: '/books/{book}/withdraw',
    permission: 'book-manage',
    says: 'Hide a released assessment again.',
    body: WithdrawWrite,
    answer: Released,
    does: (c) => withdraw(c.pool, who(c as Context<never>), c.body),
  }),
];
