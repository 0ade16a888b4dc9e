import type { Logger } from 'pino';
import { allJobKinds } from './jobs';
import { openPool } from './kernel/database';
import { JobWorkers } from './kernel/jobs/workers';
import type { MailSettings } from './kernel/config';
import { smtpSender } from './modules/mail';
import { rollOutInThreads } from './modules/policy-rollout';

/** Jobs that are being done. */
export interface RunningJobs {
  started: Promise<void>;
  /** Lets what is under way end, and begins nothing more. */
  end(): Promise<void>;
}

/** Does the jobs of a database from now on, in this thread. */
export function runJobs(databaseUrl: string, mail: MailSettings | null, log: Logger): RunningJobs {
  // Of each job one connection holds its place; a few more do the work.
  const pool = openPool(databaseUrl, 8);
  const failed = (error: unknown): void => log.error({ err: error }, 'a job failed');
  const kinds = allJobKinds(rollOutInThreads(databaseUrl), mail && (() => smtpSender(mail)));
  const workers = new JobWorkers(databaseUrl, kinds, { pool, failed });
  const started = workers.start();
  return {
    started,
    async end() {
      // Only what has begun can be ended.
      await started.catch(() => undefined);
      await workers.stop();
      await pool.end();
    },
  };
}
