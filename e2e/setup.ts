import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from '../scripts/lib/build.mjs';
import { ensureDatabase, openCluster } from '../scripts/lib/cluster.mjs';
import { run } from '../scripts/lib/run.mjs';
import { endServer, startServer } from '../scripts/lib/server.mjs';

/** One throw-away PostgreSQL with the demo school, made through the API, which every test gets a copy of. */
export default async function setup(): Promise<() => Promise<void>> {
  await build();
  const folder = mkdtempSync(join(tmpdir(), 'last-tally-e2e-'));
  chmodSync(folder, 0o755);
  const cluster = await openCluster({ folder: join(folder, 'cluster'), test: true, keepAfterStop: false });
  const url = await ensureDatabase(cluster, 'demo');
  const server = await startServer({
    databaseUrl: url,
    port: 0,
    sessionSecret: 'e2e',
    setupToken: 'e2e',
    checkAnswers: true,
  });
  const made = await run(process.execPath, ['--import', 'tsx', 'demo/load.ts'], {
    quiet: true,
    env: { ...process.env, LAST_TALLY: `http://127.0.0.1:${server.port}`, SETUP_TOKEN: 'e2e' },
  });
  await endServer(server.child);
  if (made.code !== 0) throw new Error(`the demo school could not be made: ${made.output}`);
  process.env['E2E_DATABASE'] = url;
  return async () => {
    await cluster.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
