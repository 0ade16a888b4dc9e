import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import pg from 'pg';
import { migrate, NewerDatabase } from '../store/migrate';
import { operation } from './person';
import { RULES, testSchool, type TestSchool } from './school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const put = (version: number, rules: unknown, reason = '') =>
  school.teacher.send('PUT', '/books/fens/rules', { operation: operation(), version, reason, rules });

describe('rules', () => {
  it('are kept as a new version with the reason beside the journal line', async () => {
    const made = await put(1, { ...RULES, rounding: { decimals: 2, mode: 'half-up' } }, 'two decimals, staff meeting');
    expect(made.body).toMatchObject({ version: 2 });
    const { rows } = await school.pool.query(
      `select r.reason from journal j join journal_reason r using (school, book, batch) where j.kind = 'rules'`,
    );
    expect(rows).toEqual([{ reason: 'two decimals, staff meeting' }]);
  });

  it.each([
    ['not complete', {}],
    ['of a wrong kind', { ...RULES, rounding: { decimals: 9, mode: 'up' } }],
    [
      'without a band from 0',
      { ...RULES, rules: { ...RULES.rules, scales: { letters: { bands: [{ label: 'A', from: 50 }] } } } },
    ],
    [
      'a category twice',
      { ...RULES, tree: { ...RULES.tree, children: [RULES.tree.children[0], RULES.tree.children[0]] } },
    ],
    [
      'a category named like an assessment',
      { ...RULES, tree: { ...RULES.tree, children: [{ ...(RULES.tree.children[0] as object), id: 'moss' }] } },
    ],
  ])('refuses rules that are %s and keeps those in force', async (_what, rules) => {
    const answer = await put(2, rules);
    expect([answer.status, answer.body['code']]).toEqual([400, 'bad-request']);
    expect((await school.teacher.must<{ rulesVersion: number }>('GET', '/books/fens')).rulesVersion).toBe(2);
  });

  it('makes an assessment once, however often it is asked, in one line of the journal', async () => {
    const made = {
      operation: operation(),
      id: 'fen-walk',
      title: 'Fen walk',
      category: 'field',
      points: 12.5,
      due: '2026-12-04T17:00:00Z',
      closes: null,
      takesWork: true,
      more: { extraCredit: true },
    };
    const seq = async (): Promise<number> => (await school.teacher.must<{ seq: number }>('GET', '/books/fens')).seq;
    const before = await seq();
    for (let i = 0; i < 2; i++)
      expect((await school.teacher.send('POST', '/books/fens/assessments', made)).status).toBe(201);
    expect(await seq()).toBe(before + 1);
    const again = await school.teacher.send('POST', '/books/fens/assessments', { ...made, operation: operation() });
    expect([again.status, again.body['code']]).toEqual([409, 'already-there']);
    // What was refused has taken no number of the journal.
    expect(await seq()).toBe(before + 1);
    const { rows } = await school.pool.query(`select seq from journal where book = 'fens' order by seq desc limit 1`);
    expect(rows).toEqual([{ seq: before + 1 }]);
    expect((await school.marker.send('POST', '/books/fens/assessments', made)).status).toBe(403);
  });

  it('refuses hostile rules and assessments within bounds', async () => {
    // Written as text: no walk of this test's own may meet the depth.
    const open_ = (i: number) => `{"id":"g${i}","type":"group","combine":"points","children":[`;
    const deep = Array.from({ length: 10_000 }, (_, i) => open_(i)).join('') + ']}'.repeat(10_000);
    const body = JSON.stringify({ operation: operation(), version: 2, reason: '', rules: { ...RULES, tree: 'DEEP' } });
    const answer = await school.teacher.send('PUT', '/books/fens/rules', body.replace('"DEEP"', deep));
    expect([answer.status, answer.body['code']]).toEqual([400, 'bad-request']);
    const assessment = {
      operation: operation(),
      id: 'x',
      title: 'X',
      category: 'work',
      points: 1,
      due: null,
      closes: null,
      takesWork: false,
      more: { id: 'moss' },
    };
    expect((await school.teacher.send('POST', '/books/fens/assessments', assessment)).status).toBe(400);
    expect(
      (await school.teacher.send('POST', '/books/fens/assessments', { ...assessment, more: { late: 'unknown' } }))
        .status,
    ).toBe(400);
  });

  it('refuses a stale change with the rules in force', async () => {
    const answer = await put(1, RULES);
    expect([answer.status, (answer.body['now'] as { version: number }).version]).toEqual([409, 2]);
  });
});

describe('the desk and the office', () => {
  it('count what waits by the core’s own states', async () => {
    await school.put('moss', school.adaId, 0, { kind: 'received', at: '2026-10-12T10:00:00Z' });
    await school.put('moss', school.benId, 0, { kind: 'score', points: 9 });
    const desk = await school.teacher.must<{ toMark: unknown[]; toRelease: unknown[]; books: unknown[] }>(
      'GET',
      '/desk',
    );
    expect(desk.toMark).toMatchObject([
      { assessment: 'moss', count: 1, since: '2026-10-12T10:00:00.000Z', whose: 'Adler' },
    ]);
    expect(desk.toRelease).toMatchObject([
      { assessment: 'moss', count: 1, ticks: { draft: 1, toMark: 1, missing: 1 } },
    ]);
    const office = await school.office.must<{ books: { id: string; toMark: number; drafts: number }[] }>(
      'GET',
      '/office',
    );
    expect(office.books.map((b) => [b.id, b.toMark, b.drafts])).toEqual([
      ['fens', 1, 1],
      ['hills', 0, 0],
    ]);
    expect((await school.stranger.must<{ books: { id: string }[] }>('GET', '/desk')).books.map((b) => b.id)).toEqual([
      'hills',
    ]);
  });
});

describe('a database', () => {
  it('of a newer version is refused and left alone', async () => {
    const client = new pg.Client({ connectionString: school.databaseUrl });
    await client.connect();
    await client.query(`insert into migration (name, run_on) values ('9999_from_the_future', now())`);
    await expect(migrate(school.databaseUrl)).rejects.toThrow(NewerDatabase);
    await client.query(`delete from migration where name = '9999_from_the_future'`);
    await client.end();
    expect(await migrate(school.databaseUrl)).toEqual([]);
  });
});
