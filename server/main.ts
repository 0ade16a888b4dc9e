import { pino } from 'pino';
import { makeApp } from './app';
import { readConfig } from './kernel/config';
import { allJobKinds } from './jobs';
import { JobThread, prepareQueues } from './kernel/jobs';
import { offerSetup } from './modules/accounts';
import { rollOutInThreads } from './modules/policy-rollout';
import { TaskThread } from './kernel/task-thread';
import { after } from './kernel/timers';
import { releaseBesides, type ReleaseTask } from './modules/statements';
import type { Released } from '@contract/statements';
import { openPool } from './kernel/database';
import { migrate, NewerDatabase } from './kernel/migrate';

/** Milliseconds after its start that a server begins with jobs. */
const JOBS_AFTER = 1_000;

/** Milliseconds that answers under way have when the server is asked to end. */
const ANSWERS_WITHIN = 10_000;

/** Says why the server cannot start in one sentence and ends with exit code 1. */
function stop(says: string): never {
  process.stderr.write(`${says}\n`);
  process.exit(1);
}

async function main(): Promise<void> {
  const config = readConfig(process.env);
  const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
  try {
    await migrate(config.databaseUrl);
  } catch (error) {
    if (error instanceof NewerDatabase) stop(error.message);
    stop(
      `The database could not be opened or brought up to date: ${(error as Error).message || String((error as { code?: string }).code)}`,
    );
  }
  const pool = openPool(config.databaseUrl, config.poolSize);
  await offerSetup(pool, config.setupCode);
  await prepareQueues(pool, allJobKinds(rollOutInThreads(config.databaseUrl), null));
  const releases = new TaskThread<ReleaseTask, Released>(new URL('./release-thread.mjs', import.meta.url), {
    databaseUrl: config.databaseUrl,
  });
  const { server, stop: stopApp } = makeApp(pool, config, log, releaseBesides(releases));
  const jobs = new JobThread(
    new URL('./job-thread.mjs', import.meta.url),
    { databaseUrl: config.databaseUrl, mail: config.mail },
    (error) => log.error({ err: error }, 'the thread of the jobs ended'),
  );
  // Whoever opens the first page comes first.
  after(JOBS_AFTER, () => jobs.start());
  server.on('error', (error: NodeJS.ErrnoException) =>
    stop(
      error.code === 'EADDRINUSE'
        ? `Port ${config.port} is taken by another program. Set PORT to a free one.`
        : error.message,
    ),
  );
  server.on('listening', () => {
    const address = server.address();
    process.stdout.write(`listening ${typeof address === 'object' && address ? address.port : config.port}\n`);
  });
  server.listen(config.port, config.host);
  const end = (): void => {
    const jobsEnded = jobs.stop(ANSWERS_WITHIN);
    // Whoever was told that something is being done gets its answer; nobody new comes in.
    server.close(() => void Promise.all([pool.end(), jobsEnded, releases.stop()]).then(() => process.exit(0)));
    void stopApp().finally(() => server.closeIdleConnections());
    after(ANSWERS_WITHIN, () => server.closeAllConnections());
  };
  process.on('SIGINT', end);
  process.on('SIGTERM', end);
  // Started by the start command: when it is gone, so is the server.
  if (process.env['END_WITH_PARENT'] === 'true') process.on('disconnect', end);
}

main().catch((error: unknown) => stop(error instanceof Error ? error.message : String(error)));
