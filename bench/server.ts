import type { BookDocument } from '@core/book/document';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { groupsOf, itemsOf } from '@core/book/document';
import { contentOf } from '@core/book/change';
import { rulesOf } from '@core/book/assemble';
import { build } from '../scripts/lib/build.mjs';
import { ensureDatabase, openCluster } from '../scripts/lib/database/cluster.mjs';
import { endServer, startServer } from '../scripts/lib/server.mjs';
import { Client, operation } from '../demo/client';
import { generatedBook } from './generated';

export interface BenchServer {
  address: string;
  databaseUrl: string;
  pid: number;
  login: string;
  password: string;
  stop(): Promise<void>;
}

const PASSWORD = 'bench-password';

/** A server of its own, with settings beside the usual, on a database of its own, with the generated book of 400 × 120 made through the API. */
export async function startBenchServer(
  students = 400,
  items = 120,
  extra: Record<string, string> = {},
): Promise<BenchServer> {
  await build();
  const folder = mkdtempSync(join(tmpdir(), 'last-tally-bench-'));
  chmodSync(folder, 0o755);
  const cluster = await openCluster({ folder: join(folder, 'cluster'), keepAfterStop: false });
  const databaseUrl = await ensureDatabase(cluster, 'bench');
  const book = generatedBook(students, items);
  const server = await startServer({
    databaseUrl,
    port: 0,
    sessionSecret: 'bench',
    setupCode: 'bench',
    demoClock: book.asOf,
    extra,
  });
  const address = `http://127.0.0.1:${server.port}`;
  const from = performance.now();
  await fill(address, book);
  await analyse(databaseUrl);
  process.stderr.write(
    `the book of ${students} × ${items} was made in ${((performance.now() - from) / 1000).toFixed(1)} s\n`,
  );
  return {
    address,
    databaseUrl,
    pid: server.child.pid!,
    login: 'teacher',
    password: PASSWORD,
    async stop() {
      await endServer(server.child);
      await cluster.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** What the database does by itself some seconds after a large change: statistics of its tables. */
async function analyse(databaseUrl: string): Promise<void> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  await client.query('vacuum analyze');
  await client.end();
}

async function fill(address: string, book: BookDocument): Promise<void> {
  await new Client(address).send('POST', '/setup', {
    code: 'bench',
    school: { id: 'bench', title: 'Bench', timeZone: book.timeZone },
    administrator: { login: 'office', family: 'Office', given: '', password: PASSWORD },
    term: null,
  });
  const office = await Client.signedIn(address, 'office', PASSWORD);
  const student = (i: number) => ({
    login: `student${i}`,
    family: `Student ${String(i).padStart(3, '0')}`,
    given: 'Of the bench',
    number: `N${i}`,
    mail: '',
    role: 'student',
    password: null,
  });
  await office.send('POST', '/people', {
    people: [
      { login: 'teacher', family: 'Teacher', given: '', number: '', mail: '', role: 'staff', password: PASSWORD },
    ],
  });
  await office.send('POST', '/people', { people: book.students.map((_, i) => student(i)) });
  await office.send('POST', '/terms', { id: 't', title: 'Term', starts: '2026-09-01', ends: '2026-12-20' });
  // Hurdles name categories, which rules alone know.
  const rules = rulesOf(book);
  await office.send('POST', '/books', {
    id: 'bench',
    term: 't',
    title: 'Bench',
    sections: [],
    staff: [{ login: 'teacher', role: 'teacher' }],
    rules,
  });
  const { enrolments } = await office.send<{ enrolments: { id: string; number: string }[] }>(
    'POST',
    '/books/bench/enrolments',
    {
      students: book.students.map((_, i) => ({ number: `N${i}`, section: null })),
    },
  );
  const idOf = new Map(enrolments.map((e) => [`s${e.number.slice(1)}`, e.id]));
  const teacher = await Client.signedIn(address, 'teacher', PASSWORD);
  const category = new Map(
    groupsOf(book.tree).flatMap((g) => g.children.filter((c) => c.type === 'item').map((c) => [c.id, g.id])),
  );
  for (const { id, type: _type, points, due, ...more } of itemsOf(book.tree))
    await teacher.send('POST', '/books/bench/assessments', {
      operation: operation(),
      id,
      title: `Assessment ${id.slice(1)}`,
      category: category.get(id),
      points,
      due: due ?? null,
      closes: null,
      takesWork: false,
      more,
    });
  for (let from = 0; from < book.entries.length; from += 8_000) {
    const cells = book.entries.slice(from, from + 8_000).map((e) => ({
      assessment: e.item,
      enrolment: idOf.get(e.student)!,
      version: 0,
      change: { kind: 'put', entry: contentOf(e) },
    }));
    await teacher.send('POST', '/books/bench/intake', { operation: operation(), title: 'bench', cells });
  }
}
