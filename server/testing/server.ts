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
import { allJobKinds } from '../jobs';
import { doWaitingJobs, prepareQueues } from '../kernel/jobs';
import { openPool } from '../kernel/database';
import { migrate } from '../kernel/migrate';
import { createDatabase } from '../../scripts/lib/database/sql.mjs';
import type { MailSender } from '../modules/mail';
import { USUAL_ROOM } from '../kernel/config';

const MIGRATIONS = fileURLToPath(new URL('../migrations', import.meta.url));

/** Connections that tests break on purpose are nobody's news. */
export const notTold = (): void => undefined;

export interface TestServer {
  address: string;
  pool: pg.Pool;
  databaseUrl: string;
  /** Does all jobs that wait, and those that they put in. */
  doJobs(): Promise<void>;
  close(): Promise<void>;
}

/** A server of its own on a fresh copy of the migrated database, or of another; every answer is checked against its schema. */
export async function testServer(
  openMail: (() => MailSender) | null = null,
  template = 'template_tally',
): Promise<TestServer> {
  return serve(await newDatabase(template), openMail);
}

/** The database of a server as one to copy, once nobody is connected to it any more. */
export const templateOf = ({ databaseUrl }: TestServer): string => new URL(databaseUrl).pathname.slice(1);

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

/** One more server on a database that another serves. */
export const serverBeside = (other: TestServer): Promise<TestServer> => serve(other.databaseUrl);

async function serve(databaseUrl: string, openMail: (() => MailSender) | null = null): Promise<TestServer> {
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
    room: USUAL_ROOM,
    mail: openMail && {
      server: 'smtp://127.0.0.1:1',
      from: 'tally@tarn.example',
      publicAddress: 'https://tally.tarn.example',
    },
  };
  const log = pino({ level: process.env['TEST_LOG'] ?? 'silent' });
  const failed = (error: unknown): void => log.error({ err: error });
  // Jobs are done in this process, when a test says so: the thread is a built file, which the tests in the browser use.
  const kinds = allJobKinds(
    () => ({
      done: (async () => {
        while (await rollOutNextBook(pool, failed));
      })(),
      stop: async () => undefined,
    }),
    openMail,
  );
  await prepareQueues(pool, kinds);
  await offerSetup(pool, config.setupCode);
  const { server, stop } = makeApp(pool, config, log);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    pool,
    databaseUrl,
    doJobs: () => doWaitingJobs(kinds, { pool, failed }),
    async close() {
      await stop();
      server.closeAllConnections();
      await new Promise((done) => server.close(done));
      await pool.end();
    },
  };
}
