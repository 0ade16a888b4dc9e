import { randomUUID } from 'node:crypto';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import pg from 'pg';
import { pino } from 'pino';
import { inject } from 'vitest';
import { makeApp } from '../app';
import { openPool } from '../store/database';

export interface TestServer {
  address: string;
  pool: pg.Pool;
  databaseUrl: string;
  close(): Promise<void>;
}

/** A server of its own on a fresh copy of the migrated database; every answer is checked against its schema. */
export async function testServer(): Promise<TestServer> {
  const template = inject('template');
  const name = `t_${randomUUID().replaceAll('-', '')}`;
  const admin = new pg.Client({ connectionString: template.replace(/\/template_tally$/, '/postgres') });
  await admin.connect();
  await admin.query(`create database ${name} template template_tally`);
  await admin.end();
  const databaseUrl = template.replace(/\/template_tally$/, `/${name}`);
  const pool = openPool(databaseUrl, 8);
  const config = {
    databaseUrl,
    port: 0,
    host: '127.0.0.1',
    sessionSecret: 'test-secret',
    setupToken: 'token',
    webFolder: '',
    secureCookies: false,
    checkAnswers: true,
    poolSize: 8,
  };
  const { app, stop } = makeApp(pool, config, pino({ level: process.env['TEST_LOG'] ?? 'silent' }));
  const server = await new Promise<Server>((done) => {
    const s = app.listen(0, '127.0.0.1', () => done(s));
  });
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    pool,
    databaseUrl,
    async close() {
      await stop();
      server.closeAllConnections();
      await new Promise((done) => server.close(done));
      await pool.end();
    },
  };
}
