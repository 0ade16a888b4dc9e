import { Type } from '@sinclair/typebox';
import { Choice, Id, Maybe, Moment, Shape, Title, Version, type Static } from './wire';

/** What is done beside the requests. */
export const JobName = Choice(
  'policy-rollout',
  'journal-seal',
  'exception-ends',
  'book-summary',
  'forgetting',
  'files',
  'mail',
  'gathered-mail',
  'feedback-rests',
  'marks-rest',
  'planned-release',
  'calculation',
);
export type JobName = Static<typeof JobName>;

/** GET /failed-jobs: what could not be done after all its tries, the latest first. */
export const FailedJobs = Type.Array(
  Shape({
    id: Id,
    kind: JobName,
    /** The book it is about, with its title; null: the school as a whole. */
    book: Maybe(Shape({ id: Id, title: Title })),
    tries: Version,
    failedAt: Moment,
    message: Type.String(),
  }),
);
export type FailedJobs = Static<typeof FailedJobs>;
