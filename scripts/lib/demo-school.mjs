import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { DEMO_CLOCK } from '../../demo/accounts.mjs';
import { ensureDatabase, openThrowawayCluster } from './cluster.mjs';
import { dumpDatabase } from './dump.mjs';
import { run } from './run.mjs';
import { endServer, startServer } from './server.mjs';
import { hashOf, root } from './stamps.mjs';

/** What the demo school is made of and by: a dump of it is right for as long as these are the same. */
const SOURCES = ['server', 'core', 'contract', 'demo', 'scripts/lib', 'package-lock.json', 'tsconfig.base.json'];

/** A server on a database, which it brings up to date, for as long as something is done with it. */
export async function withServer(databaseUrl, doing) {
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

/** The file with the demo school, made through the API where there is none of the sources as they are. Needs what is built. */
export async function ensureDemoDump() {
  const dump = join(root, '.cache', 'demo-school', `${hashOf(SOURCES)}.dump`);
  if (existsSync(dump)) return dump;
  const cluster = await openThrowawayCluster();
  try {
    const url = await ensureDatabase(cluster, 'demo');
    await withServer(url, async (address) => {
      const made = await run(process.execPath, ['--import', 'tsx', 'demo/load.ts'], {
        quiet: true,
        cwd: root,
        env: { ...process.env, LAST_TALLY: address, DATABASE_URL: url, SETUP_CODE: 'e2e' },
      });
      if (made.code !== 0) throw new Error(`the demo school could not be made: ${made.output}`);
    });
    await dumpDatabase(cluster, 'demo', dump);
  } finally {
    await cluster.stop();
  }
  return dump;
}
