import type { Server } from 'node:http';
import type { Logger } from 'pino';
import type { Released } from '@contract/statements';
import { makeApp } from './app';
import { allJobKinds } from './jobs';
import type { Config } from './kernel/config';
import { openPool } from './kernel/database';
import { JobThread, prepareQueues } from './kernel/jobs';
import { migrate, NewerDatabase } from './kernel/migrate';
import { TaskThread } from './kernel/task-thread';
import { after, every } from './kernel/timers';
import { offerSetup } from './modules/accounts';
import { rollOutInThreads } from './modules/policy-rollout';
import { releaseBesides, type ReleaseTask } from './modules/statements';

/** Milliseconds after its start that a server begins with jobs. */
const JOBS_AFTER = 1_000;

/** Milliseconds between looks at which lines have become idle, while a server ends. */
const IDLE_AGAIN = 50;

/** A server that listens. */
export interface Served {
  port: number;
  /** Takes nobody in any more; resolves when answers and jobs under way have ended, which have so many milliseconds. */
  end(within: number): Promise<void>;
}

/** Why a server cannot start, in a sentence for whoever started it. */
export class CannotServe extends Error {}

/** What does the jobs beside the answers. */
export interface JobRunner {
  start(): void;
  /** Lets the jobs under way end, as many milliseconds as they have. */
  stop(within: number): Promise<void>;
}

const inThread = ({ databaseUrl, mail }: Config, log: Logger): JobRunner =>
  new JobThread(new URL('./job-thread.mjs', import.meta.url), { databaseUrl, mail }, (error) =>
    log.error({ err: error }, 'the thread of the jobs ended'),
  );

/** Brings the database up to date, listens, and does the jobs. Throws {@link CannotServe}. */
export async function serve(config: Config, log: Logger, runnerOf = inThread): Promise<Served> {
  try {
    await migrate(config.databaseUrl);
  } catch (error) {
    if (error instanceof NewerDatabase) throw new CannotServe(error.message);
    throw new CannotServe(
      `The database could not be opened or brought up to date: ${(error as Error).message || String((error as { code?: string }).code)}`,
    );
  }
  const pool = openPool(config.databaseUrl, config.poolSize);
  await offerSetup(pool, config.setupCode);
  await prepareQueues(pool, allJobKinds(rollOutInThreads(config.databaseUrl), null));
  const releases = new TaskThread<ReleaseTask, Released>(new URL('./release-thread.mjs', import.meta.url), {
    databaseUrl: config.databaseUrl,
  });
  const { server, stop } = makeApp(pool, config, log, releaseBesides(releases));
  const jobs = runnerOf(config, log);
  const port = await listen(server, config);
  // Whoever opens the first page comes first.
  after(JOBS_AFTER, () => jobs.start());
  return {
    port,
    async end(within) {
      // Whoever was told that something is being done gets its answer; nobody new comes in.
      const closed = new Promise<void>((done) => server.close(() => done()));
      const jobsEnded = jobs.stop(within);
      const stopped = stop();
      // A line whose answer has gone out is kept for another request, which nobody would answer any more.
      const stopClosing = every(IDLE_AGAIN, () => server.closeIdleConnections());
      void closed.finally(stopClosing);
      after(within, () => server.closeAllConnections());
      await Promise.all([closed, stopped]);
      await Promise.all([pool.end(), jobsEnded, releases.stop()]);
    },
  };
}

function listen(server: Server, { port, host }: Config): Promise<number> {
  return new Promise((listening, failed) => {
    const cannot = (error: NodeJS.ErrnoException): void =>
      failed(
        new CannotServe(
          error.code === 'EADDRINUSE'
            ? `Port ${port} is taken by another program. Set PORT to a free one.`
            : error.message,
        ),
      );
    server.once('error', cannot);
    server.listen(port, host, () => {
      server.off('error', cannot);
      const address = server.address();
      listening(typeof address === 'object' && address ? address.port : port);
    });
  });
}
