import { pino } from 'pino';
import { readConfig, type Config } from './kernel/config';
import { runJobs, type RunningJobs } from './run-jobs';
import { serve, type JobRunner, type Served } from './serve';

// For tests: one process serves one database after another, so that its code is read and compiled once; its jobs are done
// in the same thread. Each message is the environment of the next server, or null: there is none. What it did is said by
// a message, an error by its sentence.

const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
let served: Served | null = null;

function inThisThread({ databaseUrl, mail }: Config): JobRunner {
  let jobs: RunningJobs | null = null;
  let isEnding = false;
  return {
    start() {
      if (isEnding) return;
      jobs = runJobs(databaseUrl, mail, log);
      jobs.started.catch((error: unknown) => log.error({ err: error }, 'the jobs could not be begun'));
    },
    async stop() {
      isEnding = true;
      await jobs?.end();
    },
  };
}

async function next(env: NodeJS.ProcessEnv | null): Promise<{ port: number }> {
  const before = served;
  served = null;
  await before?.end(0);
  if (!env) return { port: 0 };
  served = await serve(readConfig(env), log, inThisThread);
  return { port: served.port };
}

process.on('message', (env: NodeJS.ProcessEnv | null) => {
  next(env).then(
    (done) => process.send!(done),
    (error: unknown) => process.send!({ error: error instanceof Error ? error.message : String(error) }),
  );
});
process.on('disconnect', () => process.exit(0));
