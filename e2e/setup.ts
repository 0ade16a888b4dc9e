import { build } from '../scripts/lib/build.mjs';
import { ensureDatabase, openThrowawayCluster } from '../scripts/lib/database/cluster.mjs';
import { ensureDemoDump, withServer } from '../scripts/lib/database/demo-school.mjs';
import { restoreDatabase } from '../scripts/lib/database/dump.mjs';

/**
 * One throw-away PostgreSQL with two databases that tests get copies of: `empty`, brought up to date with nothing in it,
 * and `demo`, the demo school, made through the API once and kept as a dump by its sources.
 */
export default async function setup(): Promise<() => Promise<void>> {
  await build();
  const dump = await ensureDemoDump();
  const cluster = await openThrowawayCluster();
  await withServer(await ensureDatabase(cluster, 'empty'), async () => undefined);
  const url = await ensureDatabase(cluster, 'demo');
  await restoreDatabase(cluster, 'demo', dump);
  process.env['E2E_DATABASE'] = url;
  process.env['E2E_DUMP'] = dump;
  return () => cluster.stop();
}

/** A PostgreSQL with the demo school that one test has to itself, to kill it: the other tests' databases live on. */
export async function ownCluster(): Promise<{ url: string; stop: () => Promise<void> }> {
  const cluster = await openThrowawayCluster();
  const url = await ensureDatabase(cluster, 'demo');
  await restoreDatabase(cluster, 'demo', process.env['E2E_DUMP']!);
  return { url, stop: () => cluster.stop() };
}
