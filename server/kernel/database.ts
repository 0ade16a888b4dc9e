import pg from 'pg';
import { PreparingClient } from './prepared-statements';

/** What store functions speak to: a pool, or one connection inside a transaction. */
export type Db = Pick<pg.Pool, 'query'>;

const TIMESTAMPTZ = 1184;
const DATE = 1082;

const types = {
  getTypeParser: (oid: number, format?: 'text' | 'binary') => {
    // Moments travel as RFC 3339 text; a date stays the text it is; numerics stay decimal text (exactness).
    if (oid === TIMESTAMPTZ) return (text: string) => new Date(text).toISOString();
    if (oid === DATE) return (text: string) => text;
    return pg.types.getTypeParser(oid, format as 'text');
  },
} as pg.CustomTypesConfig;

/** `lost` hears of every connection that breaks outside a query. */
export function openPool(
  databaseUrl: string,
  size = 10,
  lost: (error: Error) => void = (error) => void process.stderr.write(`database connection lost: ${error.message}\n`),
): pg.Pool {
  const pool = new pg.Pool({
    connectionString: databaseUrl,
    max: size,
    types,
    Client: PreparingClient,
    connectionTimeoutMillis: 5_000,
    // Statements look rows up by their keys, whatever the values: planning them once is enough.
    // A statement, or a lock, that takes longer is given up: a sentence within seconds is better than a page that hangs.
    options: '-c plan_cache_mode=force_generic_plan -c statement_timeout=60s -c lock_timeout=15s',
  });
  // A connection that breaks while idle is replaced at the next use; without a listener it would end the process.
  pool.on('error', lost);
  // One that breaks between two queries of a transaction has nobody else to tell; its next query fails, and is answered.
  pool.on('connect', (client) => client.on('error', lost));
  return pool;
}

/** The database is not there, is full or has no connection left: whatever was asked of it fares alike. */
export function isDatabaseGone(error: unknown): boolean {
  const { code = '', message = '' } = error as { code?: string; message?: string };
  return (
    /^(08|53|57P)/.test(code) ||
    /^E(CONNREFUSED|CONNRESET|PIPE|TIMEDOUT|NOTFOUND)$/.test(code) ||
    /timeout exceeded when trying to connect|Connection terminated|Query read timeout/i.test(message)
  );
}

/** A statement failed, and with it the transaction that it stood in; or the database is gone. */
export const isStatementError = (error: unknown): boolean => error instanceof pg.DatabaseError || isDatabaseGone(error);

/** Runs `work` in one transaction: kept whole, or not at all. */
export const transaction = <T>(pool: pg.Pool, work: (db: Db) => Promise<T>): Promise<T> => within(pool, 'begin', work);

/**
 * Reads that belong together, all as of one moment: what others make between two of them is in none. Without it a list
 * read first can lack what a list read second has, and rules what the assessments beside them name.
 */
export const snapshot = <T>(pool: pg.Pool, work: (db: Db) => Promise<T>): Promise<T> =>
  within(pool, 'begin isolation level repeatable read read only', async (db) => {
    reading.add(db);
    try {
      return await work(db);
    } finally {
      // The connection goes on to other work.
      reading.delete(db);
    }
  });

const reading = new WeakSet<Db>();

async function within<T>(pool: pg.Pool, begin: string, work: (db: Db) => Promise<T>): Promise<T> {
  const client = await pool.connect();
  let broken: Error | undefined;
  try {
    await client.query(begin);
    const result = await work(client);
    await client.query('commit');
    return result;
  } catch (error) {
    await client.query('rollback').catch((failed: Error) => (broken = failed));
    throw error;
  } finally {
    client.release(broken);
  }
}

/** True where everything that is seen is kept: outside of a transaction, or in one that only reads. */
export const seesCommitted = (db: Db): boolean => isPool(db) || reading.has(db);

/** True outside of any transaction. */
export const isPool = (db: Db): boolean => db instanceof pg.Pool;

/** Reads side by side on a pool; one after the other on the one connection of a transaction. */
export async function runConcurrently<A, B, C>(
  db: Db,
  [a, b, c]: [() => Promise<A>, () => Promise<B>, () => Promise<C>],
): Promise<[A, B, C]> {
  if (isPool(db)) return Promise.all([a(), b(), c()]);
  return [await a(), await b(), await c()];
}

/** An unguessable id with a letter that says what it is: "s-3f9c…". */
export function newId(letter: string): string {
  return `${letter}-${crypto.randomUUID().replaceAll('-', '').slice(0, 20)}`;
}

/**
 * A list among the values of a named statement. The database does not look at how long it is when it plans: a plan for
 * this list looked cheaper to it than one for any, and so it made one anew each time, which took as long as the rest.
 */
export const listValue = (at: number, type: string): string => `(select $${at}::${type}[])`;

export const numberOrNull = (text: string | null): number | null => (text === null ? null : Number(text));
