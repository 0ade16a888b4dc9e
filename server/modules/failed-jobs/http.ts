import { FailedJobs } from '@contract/jobs';
import { Done } from '@contract/wire';
import { route, type Context, type Route } from '../../http/route';
import { transaction } from '../../kernel/database';
import { dropFailedJob, failedJobsOf, retryFailedJob } from '../../kernel/jobs';
import { Refusal } from '../../kernel/refusal';
import { booksOfSchool } from '../books';

export const failedJobsRoutes: Route[] = [
  route({
    method: 'get',
    path: '/failed-jobs',
    permission: 'office',
    summary: 'What the server could not do beside the requests, after all its tries; the latest first.',
    answer: FailedJobs,
    handler: ({ pool, school }) => failedJobs(pool, school),
  }),
  route({
    method: 'post',
    path: '/failed-jobs/{job}/retry',
    permission: 'office',
    summary: 'Try it again, with all its tries.',
    answer: Done,
    handler: (c) => act(c, retryFailedJob),
  }),
  route({
    method: 'delete',
    path: '/failed-jobs/{job}',
    permission: 'office',
    summary: 'Take it off the list. What is still due is tried again by itself.',
    answer: Done,
    handler: (c) => act(c, dropFailedJob),
  }),
];

async function failedJobs(pool: Context<unknown>['pool'], school: string): Promise<FailedJobs> {
  const rows = await failedJobsOf(pool, school);
  if (rows.length === 0) return [];
  const titles = new Map((await booksOfSchool(pool, school, true)).map((b) => [b.id, b.title]));
  return rows.map(({ id, stored, tries, failedAt, message }) => ({
    id,
    kind: stored.kind,
    book: stored.book === undefined ? null : { id: stored.book, title: titles.get(stored.book) ?? stored.book },
    tries,
    failedAt,
    message,
  }));
}

/** Only what the school is shown may be touched. Done once, it is done: a second asking finds nothing. */
function act({ pool, school, params }: Context<unknown>, done: typeof retryFailedJob): Promise<{ done: true }> {
  return transaction(pool, async (db) => {
    const row = (await failedJobsOf(db, school)).find((r) => r.id === params['job']);
    if (!row) throw new Refusal('not-found', 'This is not on the list any more. It was tried again, or taken off.');
    await done(db, row.stored);
    return { done: true as const };
  });
}
