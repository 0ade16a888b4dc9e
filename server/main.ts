import { pino } from 'pino';
import { readConfig } from './kernel/config';
import { serve } from './serve';

/** Milliseconds that answers under way have when the server is asked to end. */
const ANSWERS_WITHIN = 10_000;

async function main(): Promise<void> {
  const served = await serve(readConfig(process.env), pino({ level: process.env['LOG_LEVEL'] ?? 'warn' }));
  process.stdout.write(`listening ${served.port}\n`);
  const end = (): void => void served.end(ANSWERS_WITHIN).then(() => process.exit(0), stop);
  process.on('SIGINT', end);
  process.on('SIGTERM', end);
  // Started by the start command: when it is gone, so is the server.
  if (process.env['END_WITH_PARENT'] === 'true') process.on('disconnect', end);
}

/** Says in one sentence why the server cannot start, or end. */
function stop(error: unknown): never {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
}

main().catch(stop);
