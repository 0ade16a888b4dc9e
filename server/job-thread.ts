import { constants, setPriority } from 'node:os';
import { pino } from 'pino';
import { threadData, whenAskedToEnd } from './kernel/threads';
import type { MailSettings } from './kernel/config';
import { runJobs } from './run-jobs';

// On Linux this is the thread's own: what people wait for comes before it.
setPriority(constants.priority.PRIORITY_LOW);

const { databaseUrl, mail } = threadData<{ databaseUrl: string; mail: MailSettings | null }>();
const jobs = runJobs(databaseUrl, mail, pino({ level: process.env['LOG_LEVEL'] ?? 'warn' }));
whenAskedToEnd(() => void jobs.end().finally(() => process.exit(0)));
await jobs.started;
