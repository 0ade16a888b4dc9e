import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { ensureDatabase, openCluster } from './cluster.mjs';
import { Stop } from '../say.mjs';
import { data } from '../stamps.mjs';

/** Is there a database of the start command's own here? */
const made = () => existsSync(join(data, 'cluster-password')) || existsSync(join(data, 'where-the-database-lies.txt'));

/**
 * Runs `work` with the address of the database: that of DATABASE_URL, or the one that the start command keeps, which is
 * started for it where it does not run. `make`: one is made where there is none yet.
 */
export async function withDatabase(work, { make = false } = {}) {
  if (process.env.DATABASE_URL) return work(process.env.DATABASE_URL);
  if (!make && !made())
    throw new Stop('There is no database here yet: start the application once, or name one with DATABASE_URL.');
  const running = existsSync(join(data, 'running'));
  const cluster = await openCluster({ folder: join(data, 'cluster') });
  try {
    return await work(await ensureDatabase(cluster, 'last_tally'));
  } finally {
    // A database that the application is using goes on.
    if (!running) await cluster.stop();
  }
}
