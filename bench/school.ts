import pg from 'pg';
import type { PolicyRollout } from '@contract/policy';
import { OPEN_SCHOOL, type SchoolRules } from '@core/policy/document';
import { Client, operation } from '../demo/client';
import { p95, type Figure } from './figure';
import { startBenchServer } from './server';

const BOOKS = 50;
/** Milliseconds between two scores that are kept meanwhile. */
const SCORES_EVERY = 40;

/** A school whose rules take twice as much for lateness in every book. */
const HARDER: SchoolRules = {
  ...OPEN_SCHOOL,
  rules: { ...OPEN_SCHOOL.rules, late: { steady: { unit: 'day', deduct: 20, max: 50, graceMinutes: 15 } } },
  stands: { ...OPEN_SCHOOL.stands, late: 'fixed' },
};

/** The book as often as a school has it, row by row: making each through the API would take an hour. */
export async function copies(databaseUrl: string, books: number): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const tables = ['book', 'book_staff', 'rules_version', 'assessment', 'enrolment', 'entry', 'attempt'];
  for (let n = 2; n <= books; n++)
    for (const table of tables) {
      const { rows } = await client.query<{ column_name: string }>(
        `select column_name from information_schema.columns where table_name = $1 and table_schema = 'public'
         and is_generated = 'NEVER'`,
        [table],
      );
      const columns = rows.map((r) => r.column_name);
      const from = columns.map((c) => (c === (table === 'book' ? 'id' : 'book') ? `'bench-${n}'` : c));
      await client.query(
        `insert into ${table} (${columns.join(', ')}) select ${from.join(', ')} from ${table}
         where ${table === 'book' ? 'id' : 'book'} = 'bench'`,
      );
    }
  await client.query('vacuum analyze');
  await client.end();
}

/** Keeps scores until it is ended; gives what each took, in milliseconds. */
export function keepScores(teacher: Client, pool: pg.Pool, book: string): () => Promise<number[]> {
  const times: number[] = [];
  let going = true;
  const work = (async () => {
    const { rows } = await pool.query<{ assessment: string; enrolment: string; version: number }>(
      `select assessment, enrolment, version from entry where book = $1 order by enrolment limit 4000`,
      [book],
    );
    for (const cell of rows) {
      if (!going) return;
      const from = performance.now();
      await teacher.send('PUT', `/books/${book}/entries/${cell.assessment}/${cell.enrolment}`, {
        operation: operation(),
        version: cell.version,
        change: { kind: 'score', points: 7 },
      });
      times.push(performance.now() - from);
      await new Promise((done) => setTimeout(done, SCORES_EVERY));
    }
  })();
  return async () => {
    going = false;
    await work;
    return times;
  };
}

/** A trial of the school's rules over 50 books of 400 students × 120 assessments, while scores are being kept. */
export async function schoolFigures(): Promise<Figure[]> {
  const server = await startBenchServer();
  const pool = new pg.Pool({ connectionString: server.databaseUrl, max: 1 });
  try {
    await copies(server.databaseUrl, BOOKS);
    const office = await Client.signedIn(server.address, 'office', server.password);
    const teacher = await Client.signedIn(server.address, server.login, server.password);
    const end = keepScores(teacher, pool, 'bench');
    const id = operation();
    const from = performance.now();
    await office.send('POST', '/school-rules/rollouts', { id, version: 0, rules: HARDER });
    let rollout: PolicyRollout;
    do {
      await new Promise((done) => setTimeout(done, 200));
      rollout = await office.send<PolicyRollout>('GET', `/school-rules/rollouts/${id}`);
    } while (rollout.books.some((b) => b.state === 'waits'));
    const seconds = (performance.now() - from) / 1000;
    const times = await end();
    const moved = rollout.books.filter((b) => b.up + b.down > 300).length;
    if (rollout.books.length !== BOOKS || moved !== BOOKS) throw new Error(`only ${moved} of ${BOOKS} books moved`);
    return [
      { name: 'school.trial-50-books.s', value: seconds, unit: 's', against: 'no more than 20 s' },
      { name: 'school.scores-meanwhile.p95-ms', value: p95(times), unit: 'ms', against: 'no more than 100 ms' },
    ];
  } finally {
    await pool.end();
    await server.stop();
  }
}
