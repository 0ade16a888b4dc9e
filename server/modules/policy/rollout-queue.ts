import type { JobData, JobQueue } from '../../kernel/jobs';

/** Where it waits that a school's rules are brought to its books: one school's at a time. */
export const rolloutQueue: JobQueue<JobData> = { name: 'policy-rollout', keyOf: ({ school }) => school };
