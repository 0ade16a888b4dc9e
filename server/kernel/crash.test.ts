import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import { afterAll, describe, expect, it } from 'vitest';
import { ensureDatabase, openCluster } from '../../scripts/lib/database/cluster.mjs';
import { makeApp } from '../app';
import { offerSetup } from '../modules/accounts';
import { notTold } from '../testing/server';
import { openPool } from './database';
import { migrate } from './migrate';
import { verifyJournals } from './journal/seals';
import { operation, Person } from '../testing/person';
import { PASSWORD, RULES } from '../testing/school';
import { USUAL_ROOM } from './config';

const folder = mkdtempSync(join(tmpdir(), 'last-tally-crash-'));
chmodSync(folder, 0o755);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const open = () => openCluster({ folder: join(folder, 'cluster'), keepAfterStop: false });

async function serve(databaseUrl: string) {
  const pool = openPool(databaseUrl, 6, notTold);
  await offerSetup(pool, 'code');
  const { server, stop } = makeApp(
    pool,
    {
      databaseUrl,
      port: 0,
      host: '127.0.0.1',
      sessionSecret: 'crash',
      setupCode: 'code',
      demoClock: null,
      webFolder: '',
      secureCookies: false,
      checkAnswers: true,
      poolSize: 6,
      room: USUAL_ROOM,
      mail: null,
    },
    pino({ level: 'silent' }),
  );
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return {
    pool,
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    async end() {
      await stop();
      server.closeAllConnections();
      await new Promise((done) => server.close(done));
      await pool.end().catch(() => undefined);
    },
  };
}

async function makeBook(address: string): Promise<string[]> {
  await new Person(address).must('POST', '/setup', {
    code: 'code',
    school: { id: 'tarn', title: 'Tarn School', timeZone: 'Europe/Dublin' },
    administrator: { login: 'office', family: 'Office', given: '', password: PASSWORD },
    term: null,
  });
  const office = await Person.signedIn(address, 'office', PASSWORD);
  const person = (login: string, number: string, role: string) => ({
    login,
    family: login,
    given: '',
    number,
    mail: '',
    role,
    password: PASSWORD,
  });
  await office.must('POST', '/people', {
    people: [
      person('teacher', '', 'staff'),
      ...Array.from({ length: 8 }, (_, i) => person(`student${i}`, `N${i}`, 'student')),
    ],
  });
  await office.must('POST', '/terms', { id: 't', title: 'T', starts: '2026-09-01', ends: '2026-12-20' });
  await office.must('POST', '/books', {
    id: 'fens',
    term: 't',
    title: 'Fens',
    sections: [],
    staff: [{ login: 'teacher', role: 'teacher' }],
    rules: RULES,
  });
  const { enrolments } = await office.must<{ enrolments: { id: string }[] }>('POST', '/books/fens/enrolments', {
    students: Array.from({ length: 8 }, (_, i) => ({ number: `N${i}`, section: null })),
  });
  const teacher = await Person.signedIn(address, 'teacher', PASSWORD);
  await teacher.must('POST', '/books/fens/assessments', {
    operation: operation(),
    id: 'moss',
    title: 'Moss',
    category: 'work',
    points: 1_000_000,
    due: null,
    closes: null,
    takesWork: false,
    more: {},
  });
  return enrolments.map((e) => e.id);
}

describe('the database killed with signal 9 while scores are typed', () => {
  it('keeps all that was answered as kept, and what is tried again once', { timeout: 90_000 }, async () => {
    let cluster = await open();
    const url = await ensureDatabase(cluster, 'crash');
    await migrate(url);
    let server = await serve(url);
    const students = await makeBook(server.address);
    const teacher = await Person.signedIn(server.address, 'teacher', PASSWORD);
    const kept = new Map<string, { version: number; points: number }>();
    const unanswered = new Map<string, { operation: string; version: number; change: object; points: number }>();
    let killed = false;
    await Promise.all(
      students.map(async (student, s) => {
        for (let i = 0; !unanswered.has(student) && i < 2_000; i++) {
          const points = 1_000 * (s + 1) + i;
          const write = { operation: operation(), version: i, change: { kind: 'score', points } };
          const answer = await teacher
            .send('PUT', `/books/fens/entries/moss/${student}`, write)
            .catch(() => ({ status: 0 }));
          if (answer.status === 200) kept.set(student, { version: i + 1, points });
          else unanswered.set(student, { ...write, points });
          if (i === 25 && s === 0) {
            killed = true;
            process.kill(cluster.pid!, 'SIGKILL');
          }
        }
      }),
    );
    expect([killed, unanswered.size]).toEqual([true, students.length]);
    await server.end();

    cluster = await open();
    const again = cluster.url('crash');
    server = await serve(again);
    const { rows } = await server.pool.query<{ enrolment: string; version: number; score: number }>(
      `select e.enrolment, e.version, a.score::float as score from entry e join attempt a using (school, book, assessment, enrolment)`,
    );
    const held = new Map(rows.map((r) => [r.enrolment, r]));
    for (const [student, k] of kept) {
      // What was answered is there; one more may be whose answer never came.
      expect(held.get(student)!.version).toBeGreaterThanOrEqual(k.version);
      expect(held.get(student)!.version).toBeLessThanOrEqual(k.version + 1);
    }
    const back = await Person.signedIn(server.address, 'teacher', PASSWORD);
    for (const [student, w] of unanswered) {
      const { points, ...write } = w;
      const answer = await back.send<{ version: number }>('PUT', `/books/fens/entries/moss/${student}`, write);
      expect([answer.status, answer.body.version]).toEqual([200, w.version + 1]);
      const now = await server.pool.query<{ score: number }>(
        `select score::float as score from attempt where enrolment = $1`,
        [student],
      );
      expect(now.rows).toEqual([{ score: points }]);
    }
    const [journal] = await verifyJournals(server.pool);
    expect(journal!.faults).toEqual([]);
    await server.end();
    await cluster.stop();
  });
});
