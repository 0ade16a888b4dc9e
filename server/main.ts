import { pino } from 'pino';
import { makeApp } from './app';
import { readConfig } from './kernel/config';
import { endExceptions } from './modules/scores';
import { sealJournals } from './kernel/journal/seals';
import { offerSetup } from './modules/accounts';
import { every } from './kernel/timers';
import { openPool } from './kernel/database';
import { migrate, NewerDatabase } from './kernel/migrate';

/** Milliseconds between two sealings of what the journals have gained. */
const SEALS_EVERY = 5_000;

/** Milliseconds between two looks for exceptions whose end has come. */
const ENDS_EVERY = 15_000;

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
  const { server, rollouts, stop: stopApp } = makeApp(pool, config, log);
  rollouts.watch();
  const stopSealing = every(SEALS_EVERY, () => {
    sealJournals(pool).catch((error: unknown) => log.error({ err: error }, 'sealing the journal failed'));
  });
  const stopEnding = every(ENDS_EVERY, () => {
    endExceptions(pool).catch((error: unknown) => log.error({ err: error }, 'ending exceptions failed'));
  });
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
    stopSealing();
    stopEnding();
    void stopApp().finally(() => {
      server.close(() => void pool.end().then(() => process.exit(0)));
      server.closeAllConnections();
    });
  };
  process.on('SIGINT', end);
  process.on('SIGTERM', end);
  // Started by the start command: when it is gone, so is the server.
  if (process.env['END_WITH_PARENT'] === 'true') process.on('disconnect', end);
}

main().catch((error: unknown) => stop(error instanceof Error ? error.message : String(error)));
