import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { transaction } from './database';
import { testServer, type TestServer } from '../testing/server';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.close());

describe('a database connection that breaks', () => {
  it('inside a transaction fails that transaction alone, and ends no server', async () => {
    await server.pool.query('create table kept (n int)');
    const broken = transaction(server.pool, async (db) => {
      await db.query('insert into kept values (1)');
      const { rows } = await db.query<{ pid: number }>('select pg_backend_pid() as pid');
      await server.pool.query('select pg_terminate_backend($1)', [rows[0]!.pid]);
      // Long enough for the line's end to arrive while no query runs.
      await new Promise((done) => setTimeout(done, 300));
      await db.query('insert into kept values (2)');
    });
    await expect(broken).rejects.toThrow();
    expect((await server.pool.query('select n from kept')).rows).toEqual([]);
    const health = await fetch(`${server.address}/api/v1/health`);
    expect(health.status).toBe(200);
  });
});
