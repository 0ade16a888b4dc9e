import type { JobData, JobQueue } from '../../kernel/jobs';

/** Sending what waits: for each school by one worker at a time, so that nothing is sent by two. */
export const mailQueue: JobQueue<JobData> = { name: 'mail', keyOf: ({ school }) => school };
