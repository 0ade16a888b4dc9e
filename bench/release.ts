import pg from 'pg';
import { Client, operation } from '../demo/client';
import { noteOf } from '../demo/feedback';
import { median, p95, type Figure } from './figure';
import { copies, keepScores } from './school';
import { startBenchServer } from './server';

/** Releases that are measured, after all the other assessments are out. */
const MEASURED = 5;

/** A release of one assessment with its feedback to 400 students whose 39 others are released, while scores of another book are kept. */
export async function releaseFigures(): Promise<Figure[]> {
  const server = await startBenchServer(400, 40);
  const pool = new pg.Pool({ connectionString: server.databaseUrl, max: 1 });
  try {
    await copies(server.databaseUrl, 2);
    const teacher = await Client.signedIn(server.address, server.login, server.password);
    const { rows } = await pool.query<{ id: string }>(
      `select id from assessment where book = 'bench' order by position`,
    );
    // An end note of some paragraphs for everybody's work on everything.
    const words = 'Clear drawing, and the water table is well argued. '.repeat(12);
    await pool.query(
      `insert into end_note (school, book, assessment, enrolment, work, state, version, person)
       select e.school, e.book, a.id, e.id, 'hand-1', $1, 1, s.person from enrolment e
         join assessment a on a.school = e.school and a.book = e.book
         cross join lateral (select person from book_staff w where w.school = e.school and w.book = e.book limit 1) s
       where e.book = 'bench'`,
      [Buffer.from(noteOf(words).update, 'base64')],
    );
    const release = async (assessment: string): Promise<number> => {
      const from = performance.now();
      await teacher.send('POST', '/books/bench/release', {
        operation: operation(),
        assessment,
        enrolments: null,
        moveRules: true,
      });
      return (performance.now() - from) / 1000;
    };
    for (const { id } of rows.slice(MEASURED)) await release(id);
    const end = keepScores(teacher, pool, 'bench-2');
    const times: number[] = [];
    for (const { id } of rows.slice(0, MEASURED)) times.push(await release(id));
    const scores = await end();
    return [
      { name: 'release.400.s', value: median(times), unit: 's', against: '' },
      { name: 'release.400.scores-meanwhile.p95-ms', value: p95(scores), unit: 'ms', against: '' },
    ];
  } finally {
    await pool.end();
    await server.stop();
  }
}

/** The office's page of a school with 100 books of 30 students × 12 assessments. */
export async function officeFigures(): Promise<Figure[]> {
  const server = await startBenchServer(30, 12);
  try {
    await copies(server.databaseUrl, 100);
    const office = await Client.signedIn(server.address, 'office', server.password);
    const times: number[] = [];
    for (let i = 0; i < 12; i++) {
      const from = performance.now();
      await office.send('GET', '/office');
      times.push(performance.now() - from);
    }
    return [{ name: 'server.office-100-books.ms', value: median(times.slice(2)), unit: 'ms', against: '' }];
  } finally {
    await server.stop();
  }
}
