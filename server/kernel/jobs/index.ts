export type { JobContext, JobData, JobKind, JobQueue } from './job-kind';
export { dropFailedJob, prepareJobTables, prepareQueues, putJob, retryFailedJob } from './queue';
export { failedJobsOf } from './sql';
export { doWaitingJobs } from './worker';
export { JobThread } from './job-thread';
