import type { TestProject } from 'vitest/node';
import { ensureDatabase, openThrowawayCluster } from '../../scripts/lib/database/cluster.mjs';
import { migrate } from '../kernel/migrate';

declare module 'vitest' {
  interface ProvidedContext {
    /** The address of a migrated database that each test file copies. */
    template: string;
  }
}

/** One throw-away PostgreSQL for all server tests, with a migrated database to copy. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const cluster = await openThrowawayCluster();
  const url = await ensureDatabase(cluster, 'template_tally');
  await migrate(url);
  project.provide('template', url);
  return () => cluster.stop();
}
