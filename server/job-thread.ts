import { constants, setPriority } from 'node:os';
import { pino } from 'pino';
import { allJobKinds } from './jobs';
import { openPool } from './kernel/database';
import { JobWorkers } from './kernel/jobs/workers';
import { threadData, whenAskedToEnd } from './kernel/threads';
import type { MailSettings } from './kernel/config';
import { smtpSender } from './modules/mail';
import { rollOutInThreads } from './modules/policy-rollout';

// On Linux this is the thread's own: what people wait for comes before it.
setPriority(constants.priority.PRIORITY_LOW);

const { databaseUrl, mail } = threadData<{ databaseUrl: string; mail: MailSettings | null }>();
// Of each job one connection holds its place; a few more do the work.
const pool = openPool(databaseUrl, 8);
const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
const failed = (error: unknown): void => log.error({ err: error }, 'a job failed');
const kinds = allJobKinds(rollOutInThreads(databaseUrl), mail && (() => smtpSender(mail)));
const workers = new JobWorkers(databaseUrl, kinds, { pool, failed });
const started = workers.start();
whenAskedToEnd(() => {
  // Only what has begun can be ended.
  started
    .catch(() => undefined)
    .then(() => workers.stop())
    .then(() => pool.end())
    .finally(() => process.exit(0));
});
await started;
