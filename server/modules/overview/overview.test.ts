import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Desk, Office } from '@contract/overview';
import { damageRules } from '../../testing/sql';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import { summariseBook } from './book-summary';
import { keptSummaries, staleBooks } from './sql';
import { summaryJob } from './summaries';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const desk = () => school.teacher.must<Desk>('GET', '/desk');
const office = () => school.office.must<Office>('GET', '/office');
const clock = (at: string) => school.pool.query('update school set fixed_now = $1', [at]);
const kept = async () => (await keptSummaries(school.pool, 'tarn', ['fens'])).get('fens') ?? null;
const fresh = async () => (await summariseBook(school.pool, 'tarn', 'fens')).summary;
const summarise = () =>
  summaryJob.run(
    { pool: school.pool, signal: new AbortController().signal, failed: () => undefined },
    { school: 'tarn', book: 'fens' },
  );
const forget = () => school.pool.query('delete from book_summary');

describe('desk and office', () => {
  it('are the same from what is kept as worked out anew, after every kind of change and as dates pass', async () => {
    const { put, adaId, benId, cleoId, teacher } = school;
    const acts: [string, () => Promise<unknown>][] = [
      ['nothing', async () => undefined],
      ['a score', () => put('moss', adaId, 0, { kind: 'score', points: 12 })],
      ['work that came in', () => put('reed', benId, 0, { kind: 'received', at: '2026-11-09T08:00:00Z' })],
      ['a release', () => school.release('moss', [adaId])],
      ['an own date', () => put('test', cleoId, 0, { kind: 'due', dueAt: '2026-12-12T17:00:00Z' })],
      [
        'more time',
        () =>
          teacher.must('PATCH', '/books/fens/enrolments', {
            ...{ operation: operation(), enrolments: [benId], extraTimeHours: 48, reason: 'plan' },
          }),
      ],
      [
        'one who left',
        () =>
          teacher.must('PATCH', '/books/fens/enrolments', {
            ...{ operation: operation(), enrolments: [adaId], left: true, reason: '' },
          }),
      ],
      ['the day it is due', () => clock('2026-12-10T17:00:00.000Z')],
      ['just after', () => clock('2026-12-10T17:00:00.001Z')],
      ['two days on', () => clock('2026-12-13T00:00:00Z')],
      ['back again', () => clock('2026-11-24T09:00:00Z')],
    ];
    for (const [what, act] of acts) {
      await act();
      const stale = [await desk(), await office()];
      await summarise();
      expect(await kept(), what).toEqual(await fresh());
      expect([await desk(), await office()], what).toEqual(stale);
      await forget();
      expect([await desk(), await office()], what).toEqual(stale);
      await summarise();
    }
  });

  it('are worked out by the job once a book is at rest, and again when a date passes', async () => {
    const due = async () => (await staleBooks(school.pool)).map((b) => b.book);
    await forget();
    await clock('2026-11-24T10:00:00Z');
    await school.doJobs();
    expect(await due()).toEqual([]);
    await school.put('reed', school.cleoId, 0, { kind: 'score', points: 3 });
    expect(await due()).toEqual([]);
    await clock('2026-11-24T10:00:30Z');
    expect(await due()).toEqual(['fens']);
    await school.doJobs();
    expect(await due()).toEqual([]);
    await clock('2026-12-12T18:00:00Z');
    expect(await due()).toEqual(['fens']);
    await school.doJobs();
    expect(await kept()).toEqual(await fresh());
    await clock('2026-11-24T09:00:00Z');
  });

  it('count a score as waiting for its release until it is released, and again where it changed since', async () => {
    const { put, benId } = school;
    const waits = async () => (await desk()).toRelease.find((l) => l.assessment === 'moss')?.count ?? 0;
    const before = await waits();
    await put('moss', benId, 0, { kind: 'score', points: 9 });
    expect(await waits()).toBe(before + 1);
    await school.release('moss', [benId]);
    expect(await waits()).toBe(before);
    expect((await office()).books.find((b) => b.id === 'fens')?.ticks.released).toBeGreaterThan(0);
    await put('moss', benId, 1, { kind: 'score', points: 10 });
    expect(await waits()).toBe(before + 1);
  });

  it('say a new name at once, though the book did not change', async () => {
    expect(JSON.stringify(await desk())).toContain('Birch');
    await school.pool.query(`update person set family = 'Birchall' where login = 'ben'`);
    expect(JSON.stringify(await desk())).toContain('Birchall');
  });

  it('keep nothing of a person but ids', async () => {
    const { rows } = await school.pool.query<{ body: string }>('select body from book_summary');
    expect(rows.length).toBeGreaterThan(0);
    for (const name of ['Adler', 'Birch', 'Crane', 'Ada']) expect(rows.map((r) => r.body).join()).not.toContain(name);
  });

  it('name a book whose rules a disk has damaged, and know of the others what they knew', async () => {
    await forget();
    const before = await office();
    const damaged = async (rules: string): Promise<void> => {
      await damageRules(school.pool, 'fens', rules, 'journal');
      await forget();
      const [mine, all] = [await desk(), await office()];
      expect([mine.books.map((b) => [b.id, b.faulty]), mine.toMark, mine.toRelease]).toEqual([
        [['fens', true]],
        [],
        [],
      ]);
      expect(all.books.filter((b) => b.faulty).map((b) => b.id)).toEqual(['fens']);
      expect(all.books.filter((b) => b.id !== 'fens')).toEqual(before.books.filter((b) => b.id !== 'fens'));
    };
    const { rows } = await school.pool.query<{ rules: string }>(`select rules from rules_version where book = 'fens'`);
    // The journal has them too: where it is well the book is as it was.
    await damageRules(school.pool, 'fens', rows[0]!.rules.slice(0, 30));
    await forget();
    expect(await office()).toEqual(before);
    await damaged(rows[0]!.rules.slice(0, 30));
    await damaged('{"scale":7}');
    await damaged('null');
    await school.pool.query(`update rules_version set rules = $1 where book = 'fens'`, [rows[0]!.rules]);
    expect(await office()).toEqual(before);
  });
});

describe('jobs that failed', () => {
  it('are shown to the office of their school, tried again and taken off by it alone', async () => {
    await school.pool.query(
      `insert into jobs.job (name, data, output, retry_limit) values
         ('failed', '{"kind":"journal-seal","key":"tarn fens","school":"tarn","book":"fens"}', '{"message":"It could not be done."}', 7),
         ('failed', '{"kind":"exception-ends","key":"tarn fens x","school":"tarn","book":"fens","setBy":"x"}', '{"message":"No."}', 7),
         ('failed', '{"kind":"journal-seal","key":"other b","school":"other","book":"b"}', '{"message":"No."}', 7)`,
    );
    const list = await school.office.must<{ id: string; kind: string }[]>('GET', '/failed-jobs');
    expect(list).toHaveLength(2);
    expect(list).toContainEqual(
      expect.objectContaining({ kind: 'journal-seal', book: { id: 'fens', title: 'Fens' }, tries: 8 }),
    );
    const [seal, ends] = ['journal-seal', 'exception-ends'].map((kind) => list.find((j) => j.kind === kind)!);
    expect((await school.teacher.send('POST', `/failed-jobs/${seal!.id}/retry`)).status).toBe(403);
    await school.office.must('POST', `/failed-jobs/${seal!.id}/retry`);
    await school.office.must('DELETE', `/failed-jobs/${ends!.id}`);
    expect((await school.office.send('POST', `/failed-jobs/${seal!.id}/retry`)).status).toBe(404);
    expect(await school.office.must('GET', '/failed-jobs')).toEqual([]);
    const { rows } = await school.pool.query<{ name: string; key: string }>(
      `select name, singleton_key as key from jobs.job where state = 'created' and name <> 'failed'`,
    );
    expect(rows).toContainEqual({ name: 'journal-seal', key: 'tarn fens' });
    const { rows: others } = await school.pool.query<{ id: string }>(
      `select id from jobs.job where data->>'school' = 'other'`,
    );
    expect((await school.office.send('DELETE', `/failed-jobs/${others[0]!.id}`)).status).toBe(404);
  });
});
