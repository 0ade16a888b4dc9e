import { randomUUID } from 'node:crypto';
import { copyFileSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { AddressInfo } from 'node:net';
import pg from 'pg';
import { pino } from 'pino';
import { inject } from 'vitest';
import { makeApp } from '../app';
import { offerSetup } from '../modules/accounts';
import { rollOutNextBook } from '../modules/policy-rollout/policy-rollout';
import type { RolloutRunner } from '../modules/policy-rollout/rollout-runner';
import { openPool } from '../kernel/database';
import { migrate } from '../kernel/migrate';
import { createDatabase } from '../../scripts/lib/sql.mjs';

const MIGRATIONS = fileURLToPath(new URL('../migrations', import.meta.url));

/** Connections that tests break on purpose are nobody's news. */
export const notTold = (): void => undefined;

export interface TestServer {
  address: string;
  pool: pg.Pool;
  databaseUrl: string;
  rollouts: RolloutRunner;
  close(): Promise<void>;
}

/** A server of its own on a fresh copy of the migrated database; every answer is checked against its schema. */
export async function testServer(): Promise<TestServer> {
  return serve(await newDatabase('template_tally'));
}

/**
 * The same on a database of an earlier version, brought up to date as a start does it: the first `migrations` make its
 * tables, `rows` are the statements that fill them.
 */
export async function serverOn(migrations: number, rows: string): Promise<TestServer> {
  const databaseUrl = await newDatabase();
  const earlier = mkdtempSync(join(tmpdir(), 'last-tally-migrations-'));
  for (const file of readdirSync(MIGRATIONS).sort().slice(0, migrations))
    copyFileSync(join(MIGRATIONS, file), join(earlier, file));
  await migrate(databaseUrl, earlier);
  rmSync(earlier, { recursive: true });
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  await client.query(rows);
  await client.end();
  await migrate(databaseUrl);
  return serve(databaseUrl);
}

/** A new database of the tests' cluster, empty or as a template is; gives its address. */
async function newDatabase(template?: string): Promise<string> {
  const known = inject('template');
  const name = `t_${randomUUID().replaceAll('-', '')}`;
  const admin = new pg.Client({ connectionString: known.replace(/\/template_tally$/, '/postgres') });
  await admin.connect();
  await admin.query(createDatabase(name, template));
  await admin.end();
  return known.replace(/\/template_tally$/, `/${name}`);
}

async function serve(databaseUrl: string): Promise<TestServer> {
  const pool = openPool(databaseUrl, 8, notTold);
  const config = {
    databaseUrl,
    port: 0,
    host: '127.0.0.1',
    sessionSecret: 'test-secret',
    setupCode: 'code',
    demoClock: '2026-11-24T09:00:00Z',
    webFolder: '',
    secureCookies: false,
    checkAnswers: true,
    poolSize: 8,
  };
  const log = pino({ level: process.env['TEST_LOG'] ?? 'silent' });
  // What waits is worked out in this process: the thread is a built file, which the tests in the browser use.
  const startRollouts = () => ({
    done: (async () => {
      while (await rollOutNextBook(pool, (error) => log.error({ err: error })));
    })(),
    stop: async () => undefined,
  });
  await offerSetup(pool, config.setupCode);
  const { server, rollouts, stop } = makeApp(pool, config, log, startRollouts);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    pool,
    databaseUrl,
    rollouts,
    async close() {
      await rollouts.idle();
      await stop();
      server.closeAllConnections();
      await new Promise((done) => server.close(done));
      await pool.end();
    },
  };
}
