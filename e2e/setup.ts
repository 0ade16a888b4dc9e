import { chmodSync, existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { DEMO_CLOCK } from '../demo/accounts.mjs';
import { build } from '../scripts/lib/build.mjs';
import { ensureDatabase, openCluster, type Cluster } from '../scripts/lib/cluster.mjs';
import { dumpDatabase, restoreDatabase } from '../scripts/lib/dump.mjs';
import { run } from '../scripts/lib/run.mjs';
import { endServer, startServer } from '../scripts/lib/server.mjs';
import { hashOf, root } from '../scripts/lib/stamps.mjs';

/** What the demo school is made of and by: a dump of it is right for as long as these are the same. */
const SOURCES = ['server', 'core', 'contract', 'demo', 'scripts/lib', 'package-lock.json', 'tsconfig.base.json'];

/**
 * One throw-away PostgreSQL with two databases that tests get copies of: `empty`, brought up to date with nothing in it,
 * and `demo`, the demo school, made through the API once and kept as a dump by its sources.
 */
export default async function setup(): Promise<() => Promise<void>> {
  await build();
  const folder = mkdtempSync(join(tmpdir(), 'last-tally-e2e-'));
  chmodSync(folder, 0o755);
  const cluster = await openCluster({ folder: join(folder, 'cluster'), test: true, keepAfterStop: false });
  await withServer(await ensureDatabase(cluster, 'empty'), async () => undefined);
  const url = await ensureDatabase(cluster, 'demo');
  const dump = join(root, '.cache', 'demo-school', `${hashOf(SOURCES)}.dump`);
  if (existsSync(dump)) await restoreDatabase(cluster, 'demo', dump);
  else await makeDemo(cluster, url, dump);
  process.env['E2E_DATABASE'] = url;
  process.env['E2E_DUMP'] = dump;
  return async () => {
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}

/** A PostgreSQL with the demo school that one test has to itself, to kill it: the other tests' databases live on. */
export async function ownCluster(): Promise<{ url: string; stop: () => Promise<void> }> {
  const folder = mkdtempSync(join(tmpdir(), 'last-tally-e2e-own-'));
  chmodSync(folder, 0o755);
  const cluster = await openCluster({ folder: join(folder, 'cluster'), test: true, keepAfterStop: false });
  const url = await ensureDatabase(cluster, 'demo');
  await restoreDatabase(cluster, 'demo', process.env['E2E_DUMP']!);
  return {
    url,
    stop: async () => {
      await cluster.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

async function makeDemo(cluster: Cluster, url: string, dump: string): Promise<void> {
  await withServer(url, async (address) => {
    const made = await run(process.execPath, ['--import', 'tsx', 'demo/load.ts'], {
      quiet: true,
      env: { ...process.env, LAST_TALLY: address, DATABASE_URL: url, SETUP_CODE: 'e2e' },
    });
    if (made.code !== 0) throw new Error(`the demo school could not be made: ${made.output}`);
  });
  await dumpDatabase(cluster, 'demo', dump);
}

/** A server on a database, which it brings up to date, for as long as something is done with it. */
async function withServer(databaseUrl: string, doing: (address: string) => Promise<void>): Promise<void> {
  const server = await startServer({
    databaseUrl,
    port: 0,
    sessionSecret: 'e2e',
    setupCode: 'e2e',
    checkAnswers: true,
    demoClock: DEMO_CLOCK,
  });
  try {
    await doing(`http://127.0.0.1:${server.port}`);
  } finally {
    await endServer(server.child);
  }
}
