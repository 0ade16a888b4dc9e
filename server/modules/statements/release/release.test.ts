import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { operation } from '../../../testing/person';
import { RULES, testSchool, type TestSchool } from '../../../testing/school';
import type { StudentBook } from '@contract/statements';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
  await school.put('moss', school.benId, 0, { kind: 'score', points: 12 });
  await school.put('reed', school.adaId, 0, { kind: 'score', points: 3.75 });
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: true });
});
afterAll(() => school.close());

const myBook = (): Promise<StudentBook> => school.ada.must<StudentBook>('GET', '/my/books/fens');
/** Everything that a student can get, as bytes. */
const allBytes = async (): Promise<string> =>
  (await Promise.all(['/my/books', '/my/books/fens'].map((p) => school.ada.send('GET', p))))
    .map((a) => a.text)
    .join('\n');

describe('release', () => {
  it('shows nothing before, and then the score as it was', async () => {
    expect((await myBook()).work.map((w) => w.score)).toEqual([null, null, null]);
    expect((await myBook()).standing).toBe(null);
    await school.release('moss', [school.adaId]);
    const book = await myBook();
    expect(book.work.find((w) => w.id === 'moss')).toMatchObject({
      state: 'scored',
      points: 20,
      score: { earned: '16', releasedBy: 'S. teacher' },
    });
    expect(book.standing).toMatchObject({ percent: '80.0', letter: 'A' });
    expect(book.work.find((w) => w.id === 'reed')).toMatchObject({ score: null });
  });

  it('changes not a byte of what a student gets until something is released to them', async () => {
    const before = await allBytes();
    await school.put('moss', school.adaId, 1, { kind: 'score', points: 4 });
    await school.put('moss', school.benId, 1, { kind: 'state', state: 'missing' });
    await school.put('reed', school.adaId, 1, { kind: 'late', units: 3 });
    await school.put('test', school.adaId, 0, { kind: 'state', state: 'missing' });
    await school.put('test', school.benId, 0, { kind: 'score', points: 50 });
    const rules = {
      ...RULES,
      rounding: { decimals: 3, mode: 'down' as const },
      rules: { ...RULES.rules, scales: { letters: { bands: [{ label: 'Z', from: 0 }] } } },
    };
    await school.teacher.must('PUT', '/books/fens/rules', {
      operation: operation(),
      version: 1,
      reason: 'a trial',
      rules,
    });
    await school.pool.query(`update assessment set points = 99, title = 'Renamed' where id = 'moss'`);
    await school.pool.query(`update assessment set more = '{"info":{"note":"staff only"}}' where id = 'reed'`);
    await school.release('moss', [school.benId]);
    expect(await allBytes()).toBe(before);
    await school.pool.query(`update assessment set points = 20, title = 'Moss' where id = 'moss'`);
  });

  it('keeps the rules of the last release unless the person releasing moves them', async () => {
    await school.release('reed', [school.adaId], false);
    let book = await myBook();
    expect(book.standing).toMatchObject({ percent: '55.8', letter: 'B' });
    await school.release('reed', [school.adaId], true);
    book = await myBook();
    expect(book.standing).toMatchObject({ percent: '55.833', letter: 'Z' });
    // Moss was changed since it was released and is not released again: what was released stands.
    expect(book.work.find((w) => w.id === 'moss')?.score?.earned).toBe('16');
  });

  it('is what the working says: the lines lead to the figures', async () => {
    const book = await myBook();
    const reed = book.work.find((w) => w.id === 'reed')!;
    expect(reed.score?.lines.map((l) => [l.label, l.figure])).toEqual([
      ['Marked', '3.75'],
      ['Late 3 days, said by hand', '− 3'],
      ['Counts as', '0.75'],
      ['Share', ''],
    ]);
    expect(reed.score?.earned).toBe('3/4');
  });

  it('can be withdrawn: hidden at once, and out of the standing', async () => {
    await school.teacher.must('POST', '/books/fens/withdraw', {
      operation: operation(),
      assessment: 'reed',
      enrolments: [school.adaId],
    });
    const book = await myBook();
    expect(book.work.find((w) => w.id === 'reed')?.score).toBe(null);
    expect(book.standing).toMatchObject({ percent: '80.000' });
    const nothing = await school.teacher.send('POST', '/books/fens/withdraw', {
      operation: operation(),
      assessment: 'reed',
      enrolments: [school.adaId],
    });
    expect(nothing.status).toBe(400);
  });

  it('tells staff what students see: as it is, an earlier form, or nothing', async () => {
    const sheet = await school.teacher.must<{
      document: { entries: { item: string; student: string }[] };
      releaseStates: number[];
    }>('GET', '/books/fens/sheet');
    const out = (item: string, student: string): number =>
      sheet.releaseStates[sheet.document.entries.findIndex((e) => e.item === item && e.student === student)]!;
    expect([out('moss', school.adaId), out('moss', school.benId), out('reed', school.adaId)]).toEqual([2, 1, 0]);
    await school.put('moss', school.adaId, 2, { kind: 'score', points: 16 });
    const again = await school.teacher.must<typeof sheet>('GET', '/books/fens/sheet');
    expect(
      again.releaseStates[again.document.entries.findIndex((e) => e.item === 'moss' && e.student === school.adaId)],
    ).toBe(1);
  });

  it('tells an excuse and an own due date at once', async () => {
    await school.put('test', school.adaId, 1, { kind: 'due', dueAt: '2026-12-17T17:00:00Z' });
    expect((await myBook()).work.find((w) => w.id === 'test')).toMatchObject({
      due: '2026-12-17T17:00:00.000Z',
      state: 'open',
    });
    await school.put('test', school.adaId, 2, { kind: 'state', state: 'excused' });
    expect((await myBook()).work.find((w) => w.id === 'test')?.state).toBe('excused');
  });

  it('leaks nothing of others or of drafts anywhere a student can ask', async () => {
    // Every route that answers a student, with every part of a path filled in.
    const api = await school.ada.must<{ paths: Record<string, Record<string, unknown>> }>('GET', '/openapi.json');
    const seen: string[] = [];
    for (const [path, methods] of Object.entries(api.paths)) {
      if (!('get' in methods) || path.endsWith('openapi.json')) continue;
      const full = path
        .replace('/api/v1', '')
        .replace('{book}', 'fens')
        .replace(/\{\w+\}/g, school.benId);
      seen.push((await school.ada.send('GET', full)).text);
    }
    const all = seen.join('\n');
    for (const secret of [school.benId, school.cleoId, 'Birch', 'Crane', 'ben@', 'staff only', '"seq"', 'a trial'])
      expect(all).not.toContain(secret);
  });
});

describe('final grades', () => {
  it('say what they hold, and no cell can be a formula', async () => {
    const answer = await school.teacher.send<string>('GET', '/books/fens/final-grades.csv');
    expect(answer.headers.get('content-disposition')).toBe('attachment; filename="final-grades-fens.csv"');
    const rows = answer.text.replace('\uFEFF', '').split('\r\n');
    expect(rows[0]).toMatch(
      /^"Final grades of Fens, Autumn, Tarn School: percentage and letter of all 3 students, \d with a grade, as of 24 Nov 2026 09:00, by rules version 2/,
    );
    expect(rows[1]).toBe('Student number,Family name,Given name,Section,Percent,Letter');
    expect(rows.find((r) => r.startsWith('N3'))).toMatch(/^N3,"'=Crane",Cleo,North/);
  });
});
