import { pino } from 'pino';
import { readConfig } from './kernel/config';
import { serve, type Served } from './serve';

// For tests: one process serves one database after another, so that its code is read and compiled once. Each message is
// the environment of the next server, or null: there is none. What it did is said by a message, an error by its sentence.

const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
let served: Served | null = null;

async function next(env: NodeJS.ProcessEnv | null): Promise<{ port: number }> {
  const before = served;
  served = null;
  await before?.end(0);
  if (!env) return { port: 0 };
  served = await serve(readConfig(env), log);
  return { port: served.port };
}

process.on('message', (env: NodeJS.ProcessEnv | null) => {
  next(env).then(
    (done) => process.send!(done),
    (error: unknown) => process.send!({ error: error instanceof Error ? error.message : String(error) }),
  );
});
process.on('disconnect', () => process.exit(0));
