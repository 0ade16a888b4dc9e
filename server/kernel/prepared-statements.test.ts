import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { testServer, type TestServer } from '../testing/server';
import { openPool } from './database';
import { StatementNames } from './prepared-statements';

let server: TestServer;
beforeAll(async () => {
  server = await testServer();
});
afterAll(() => server.close());

describe('a statement', () => {
  const prepared = `select statement, generic_plans::int as plans, custom_plans::int as "ownPlans" from pg_prepared_statements`;

  it('is read and planned once on a connection, from its second use in the process on', async () => {
    const pool = openPool(server.databaseUrl, 2);
    const [one, other] = [await pool.connect(), await pool.connect()];
    const text = 'select $1::int + 1 as n';
    const ask = async (db: typeof one, n: number): Promise<unknown> => (await db.query(text, [n])).rows;
    expect(await ask(one, 1)).toEqual([{ n: 2 }]);
    expect((await one.query(prepared)).rows).toEqual([]);
    for (const n of [2, 3, 4]) expect(await ask(one, n)).toEqual([{ n: n + 1 }]);
    expect((await one.query(prepared)).rows).toEqual([{ statement: text, plans: 3, ownPlans: 0 }]);
    // Another connection need not find it out again.
    expect(await ask(other, 9)).toEqual([{ n: 10 }]);
    expect((await other.query(prepared)).rows).toEqual([{ statement: text, plans: 1, ownPlans: 0 }]);
    one.release();
    other.release();
    await pool.end();
  });

  it('that fails fails alone, and is read anew by the next', async () => {
    const text = 'select n from made_later where n > $1';
    for (let i = 0; i < 3; i++) await expect(server.pool.query(text, [1])).rejects.toThrow('made_later');
    await server.pool.query('create table made_later (n int)');
    await server.pool.query('insert into made_later select generate_series(1, $1::int)', [3]);
    for (let i = 0; i < 3; i++) expect((await server.pool.query(text, [1])).rows).toEqual([{ n: 2 }, { n: 3 }]);
    await server.pool.query('alter table made_later add column more int');
    expect((await server.pool.query(text, [2])).rows).toEqual([{ n: 3 }]);
  });

  it('in a transaction that is taken back is still there after it', async () => {
    const client = await server.pool.connect();
    const text = 'select $1::text as word';
    for (let i = 0; i < 3; i++) {
      await client.query('begin');
      expect((await client.query(text, ['reed'])).rows).toEqual([{ word: 'reed' }]);
      await client.query('rollback');
    }
    const { rows } = await client.query(`${prepared} where statement = $1`, [text]);
    expect(rows).toEqual([{ statement: text, plans: 2, ownPlans: 0 }]);
    client.release();
  });
});

describe('names', () => {
  it('are given to what is used again, to so many at most, whatever else passes by', () => {
    const names = new StatementNames(2);
    expect(names.nameOf('a')).toBeUndefined();
    expect(names.nameOf('a')).toBe('s1');
    for (const text of ['x', 'y', 'z']) expect(names.nameOf(text)).toBeUndefined();
    expect(names.nameOf('b')).toBeUndefined();
    expect(names.nameOf('b')).toBe('s2');
    expect(names.nameOf('c')).toBeUndefined();
    expect(names.nameOf('c')).toBeUndefined();
    expect([names.nameOf('a'), names.nameOf('b')]).toEqual(['s1', 's2']);
  });
});
