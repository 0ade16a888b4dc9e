import { workerData } from 'node:worker_threads';
import { pino } from 'pino';
import { workNext } from '../domain/school-turns';
import { openPool } from '../store/database';

/** Books worked out side by side: one is read by the database while another is worked out here. */
const SIDE_BY_SIDE = 2;

const { databaseUrl } = workerData as { databaseUrl: string };
// Each needs a connection that holds its place, and one that reads or writes the book.
const pool = openPool(databaseUrl, 2 * SIDE_BY_SIDE);
const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
const failed = (error: unknown): void => log.error({ err: error }, 'a book could not be worked out');
const all = async (): Promise<void> => {
  while (await workNext(pool, failed));
};
try {
  await Promise.all(Array.from({ length: SIDE_BY_SIDE }, all));
} finally {
  await pool.end();
}
