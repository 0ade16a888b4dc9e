import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { ensureDatabase, openCluster } from '../../scripts/lib/cluster.mjs';
import { migrate } from '../kernel/migrate';

declare module 'vitest' {
  interface ProvidedContext {
    /** The address of a migrated database that each test file copies. */
    template: string;
  }
}

/** One throw-away PostgreSQL for all server tests, with a migrated database to copy. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'last-tally-test-'));
  chmodSync(folder, 0o755);
  const cluster = await openCluster({ folder: join(folder, 'cluster'), test: true, keepAfterStop: false });
  const url = await ensureDatabase(cluster, 'template_tally');
  await migrate(url);
  project.provide('template', url);
  return async () => {
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
