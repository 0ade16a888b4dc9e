import { constants, setPriority } from 'node:os';
import { pino } from 'pino';
import { rollOutNextBook } from './policy-rollout';
import { threadData } from '../../kernel/threads';
import { openPool } from '../../kernel/database';

// On Linux this is the thread's own: what people wait for comes before it.
setPriority(constants.priority.PRIORITY_LOW);

const { databaseUrl } = threadData<{ databaseUrl: string }>();
// One connection holds the place in the rollout, another reads or writes the book.
const pool = openPool(databaseUrl, 2);
const log = pino({ level: process.env['LOG_LEVEL'] ?? 'warn' });
const failed = (error: unknown): void => log.error({ err: error }, 'a book could not be worked out');
try {
  while (await rollOutNextBook(pool, failed));
} finally {
  await pool.end();
}
