import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

const lines = async (assessment: string, enrolment: string) =>
  (
    await school.pool.query<{ seq: number; was: string; becomes: string }>(
      'select seq, was, becomes from journal where assessment = $1 and enrolment = $2 order by seq',
      [assessment, enrolment],
    )
  ).rows;

describe('a cell', () => {
  it('is kept with its journal line in one go, and the journal follows in order', async () => {
    const first = await school.put('moss', school.adaId, 0, { kind: 'score', points: 17.25 });
    expect(first.body).toMatchObject({ version: 1, entry: { attempts: [{ score: 17.25 }] }, releaseState: 0 });
    const late = await school.put('moss', school.adaId, 1, { kind: 'late', units: 2 });
    expect(late.body).toMatchObject({ version: 2, entry: { attempts: [{ score: 17.25, lateUnits: 2 }] } });
    expect((await lines('moss', school.adaId)).map((l) => [l.was, l.becomes])).toEqual([
      ['{}', '{"attempts":[{"score":17.25}]}'],
      ['{"attempts":[{"score":17.25}]}', '{"attempts":[{"lateUnits":2,"score":17.25}]}'],
    ]);
    const { rows } = await school.pool.query('select seq from journal where book = $1 order by seq', ['fens']);
    expect(rows.map((r) => r.seq)).toEqual(rows.map((_, i) => i + 1));
  });

  it('refuses a stale write with what is kept, and changes nothing', async () => {
    await school.put('reed', school.adaId, 0, { kind: 'score', points: 5 });
    const stale = await school.put('reed', school.adaId, 0, { kind: 'score', points: 9 });
    expect([stale.status, stale.body['code'], stale.body['now']]).toMatchObject([
      409,
      'stale',
      { version: 1, entry: { attempts: [{ score: 5 }] } },
    ]);
    expect(await lines('reed', school.adaId)).toHaveLength(1);
  });

  it('does an operation that is tried again once', async () => {
    const write = { operation: operation(), version: 0, change: { kind: 'state', state: 'excused' } };
    const path = `/books/fens/entries/reed/${school.benId}`;
    const [a, b] = [await school.teacher.send('PUT', path, write), await school.teacher.send('PUT', path, write)];
    expect([a.status, b.status, b.body]).toEqual([200, 200, a.body]);
    expect(await lines('reed', school.benId)).toHaveLength(1);
  });

  it('is won by one of many at once', async () => {
    const all = await Promise.all(
      Array.from({ length: 12 }, (_, i) => school.put('test', school.benId, 0, { kind: 'score', points: i })),
    );
    expect(all.filter((a) => a.status === 200)).toHaveLength(1);
    expect(all.filter((a) => a.status === 409)).toHaveLength(11);
    expect(await lines('test', school.benId)).toHaveLength(1);
  });

  it.each([
    ['five decimals', { kind: 'score', points: 1.00001 }],
    ['a negative score', { kind: 'score', points: -1 }],
    ['a mark of an assessment that has none', { kind: 'mark', label: 'Pass' }],
    ['an unknown state', { kind: 'state', state: 'gone' }],
    ['a number as text', { kind: 'score', points: '12' }],
    ['a key that is not known', { kind: 'score', points: 1, colour: 'red' }],
    ['a moment that is none', { kind: 'late-at', receivedAt: 'yesterday' }],
  ])('refuses %s with a sentence, keeping nothing', async (_what, change) => {
    const answer = await school.put('test', school.cleoId, 0, change);
    expect([answer.status, answer.body['code']]).toEqual([400, 'bad-request']);
    expect(answer.body['detail']).toMatch(/Nothing was changed/);
    expect(await lines('test', school.cleoId)).toHaveLength(0);
  });

  it('refuses cells of nobody and nothing', async () => {
    expect((await school.put('test', 's-nobody', 0, { kind: 'clear' })).status).toBe(400);
    expect((await school.put('nothing', school.adaId, 0, { kind: 'clear' })).status).toBe(400);
  });

  it('keeps every decimal: what was written is what is read', async () => {
    await school.put('test', school.adaId, 0, { kind: 'score', points: 33.3333 });
    const sheet = await school.teacher.must<{
      document: { entries: { item: string; student: string; attempts?: { score: number }[] }[] };
    }>('GET', '/books/fens/sheet');
    expect(sheet.document.entries.find((e) => e.item === 'test' && e.student === school.adaId)?.attempts).toEqual([
      { score: 33.3333 },
    ]);
  });
});

describe('the journal', () => {
  it('cannot be altered, not even by the database’s owner', async () => {
    await expect(school.pool.query(`update journal set becomes = 'x'`)).rejects.toThrow(/never altered/);
    await expect(school.pool.query('delete from journal')).rejects.toThrow(/never altered/);
    await expect(school.pool.query('truncate journal cascade')).rejects.toThrow(/never altered/);
  });
});

describe('the sheet', () => {
  const scoreOf = async (): Promise<unknown> => {
    type Sheet = { document: { entries: { student: string; item: string; attempts?: { score: number }[] }[] } };
    const { document } = await school.teacher.must<Sheet>('GET', '/books/fens/sheet');
    return document.entries.find((e) => e.item === 'test' && e.student === school.cleoId)?.attempts?.[0]?.score;
  };

  it('is as the database has it, whatever was read and kept before', async () => {
    await school.put('test', school.cleoId, 0, { kind: 'score', points: 20 });
    expect(await scoreOf()).toBe(20);
    await school.put('test', school.cleoId, 1, { kind: 'score', points: 30 });
    expect(await scoreOf()).toBe(30);
    // Another server's write, in one transaction with the book's row.
    const write = async (points: number, book: string): Promise<void> => {
      const client = await school.pool.connect();
      try {
        await client.query('begin');
        await client.query(`update attempt set score = $1 where book = 'fens' and assessment = 'test'`, [points]);
        await client.query(book);
        await client.query('commit');
      } finally {
        client.release();
      }
    };
    await write(31, `update book set seq = seq + 1 where id = 'fens'`);
    expect(await scoreOf()).toBe(31);
    // A restored back-up: other contents at the same number of the journal.
    await write(32, `update book set seq = seq where id = 'fens'`);
    expect(await scoreOf()).toBe(32);
    await school.pool.query(`update book set seq = seq - 1 where id = 'fens'`);
    expect(await scoreOf()).toBe(32);
  });
});
