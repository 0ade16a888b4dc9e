import { readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { prepareJobTables } from './jobs';
import { migrationsRun } from './sql';

/** The folder of the numbered migrations, from the sources or beside the bundle. */
export function migrationsFolder(): string {
  return process.env['MIGRATIONS_FOLDER'] ?? join(dirname(fileURLToPath(import.meta.url)), '..', 'migrations');
}

/** The database was made by a newer version of the program than this one. */
export class NewerDatabase extends Error {}

/** Brings the database to this version. Refuses, without touching it, one that is newer. */
export async function migrate(databaseUrl: string, folder = migrationsFolder()): Promise<string[]> {
  const known = readdirSync(folder)
    .filter((f) => f.endsWith('.sql'))
    .map((f) => f.replace(/\.sql$/, ''));
  const client = new pg.Client({ connectionString: databaseUrl, connectionTimeoutMillis: 5_000 });
  await client.connect();
  try {
    const run = await migrationsRun(client);
    const foreign = run.filter((name) => !known.includes(name));
    if (foreign.length > 0)
      throw new NewerDatabase(
        `This database was made by a newer version of Last Tally (it has "${foreign[0]}"). Start that version, or use another database.`,
      );
    const done = run.length === known.length ? [] : await runMigrations(client, folder);
    await prepareJobTables(client);
    return done;
  } finally {
    await client.end();
  }
}

async function runMigrations(client: pg.Client, folder: string): Promise<string[]> {
  // Most starts have nothing to bring up to date, and do without what does it.
  const { runner } = await import('node-pg-migrate');
  const done = await runner({
    dbClient: client,
    dir: folder,
    direction: 'up',
    migrationsTable: 'migration',
    checkOrder: true,
    log: () => undefined,
    logger: {
      debug: () => undefined,
      info: () => undefined,
      warn: () => undefined,
      error: (m) => process.stderr.write(`${String(m)}\n`),
    },
  });
  return done.map((m) => m.name);
}
