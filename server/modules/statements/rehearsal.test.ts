import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Rehearsal, RehearsalWrite } from '@contract/statements';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.teacher.must('PATCH', '/books/fens', { operation: operation(), showsStanding: true });
});
afterAll(() => school.close());

const NOTHING: RehearsalWrite = { asOf: null, section: null, extraTimeHours: 0, cells: [] };
const put = (write: Partial<RehearsalWrite>, who = school.teacher): Promise<Rehearsal> =>
  who.must<Rehearsal>('PUT', '/books/fens/rehearsal', { ...NOTHING, ...write });
const score = (points: number) => ({ attempts: [{ score: points }] });

/** All of the book's tables, without the rehearsals, as text. */
async function everythingElse(): Promise<string> {
  const { rows: tables } = await school.pool.query<{ name: string }>(
    `select table_name as name from information_schema.tables where table_schema = 'public' and table_type = 'BASE TABLE'
       and table_name not in ('rehearsal', 'session') order by 1`,
  );
  const all = await Promise.all(
    tables.map((t) => school.pool.query<{ text: string }>(`select t::text as text from "${t.name}" t order by 1`)),
  );
  return all.map((a, i) => [tables[i]!.name, ...a.rows.map((r) => r.text)].join('\n')).join('\n');
}

describe('a rehearsal', () => {
  it('reads as a student would, who had just that and no more', async () => {
    const seen = await put({
      cells: [
        { assessment: 'moss', entry: score(16), released: true },
        { assessment: 'reed', entry: score(2), released: false },
      ],
    });
    expect(seen.page.standing).toMatchObject({ percent: '80.0', letter: 'A' });
    expect(seen.page.work.map((w) => [w.id, w.score?.earned ?? null])).toEqual([
      ['moss', '16'],
      ['reed', null],
      ['test', null],
    ]);
    expect(seen.ledger).toMatchObject({ percent: '60.0', letter: 'B' });
    // What a real student with the same scores reads, released in the same way.
    await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
    await school.put('reed', school.adaId, 0, { kind: 'score', points: 2 });
    await school.release('moss', [school.adaId]);
    const real = await school.teacher.must<Rehearsal['page']>('GET', `/books/fens/as-student/${school.adaId}`);
    // Nobody opens what a made-up student gets.
    expect(seen.page).toEqual({ ...real, work: real.work.map((w) => ({ ...w, fresh: false })) });
  });

  it('touches nothing but the rehearsals of the one who rehearses, and each has their own', async () => {
    const before = await everythingElse();
    await put({ cells: [{ assessment: 'test', entry: score(50), released: true }], extraTimeHours: 24 });
    expect(await everythingElse()).toBe(before);
    expect((await school.teacher.must<Rehearsal>('GET', '/books/fens/rehearsal')).write.extraTimeHours).toBe(24);
    expect((await school.marker.must<Rehearsal>('GET', '/books/fens/rehearsal')).write).toEqual(NOTHING);
  });

  it('may look on any day, in any section, with more time', async () => {
    const late = { attempts: [{ score: 10, receivedAt: '2026-11-12T17:00:00Z' }] };
    const cells = [{ assessment: 'reed', entry: late, released: true }];
    expect((await put({ cells })).ledger.items.find((i) => i.id === 'reed')?.earned).toBe('8');
    const more = await put({ cells, extraTimeHours: 48, section: 'north', asOf: '2027-02-01T09:00:00Z' });
    expect(more.ledger.items.map((i) => [i.id, i.state, i.earned])).toEqual([
      ['moss', 'missing', '0'],
      ['reed', 'scored', '10'],
      ['test', 'missing', '0'],
    ]);
    expect(more.page.asOf).toBe('2027-02-01T09:00:00Z');
  });

  it('refuses what no student could have, and keeps what was there', async () => {
    const was = await put({ cells: [{ assessment: 'moss', entry: score(3), released: false }] });
    for (const wrong of [
      { cells: [{ assessment: 'nothing', entry: score(3), released: false }] },
      { cells: [{ assessment: 'moss', entry: { attempts: [{ mark: 'Pass' }] }, released: false }] },
      { cells: [1, 2].map((n) => ({ assessment: 'moss', entry: score(n), released: false })) },
      { section: 'south' },
      { extraTimeHours: -1 },
    ])
      expect((await school.teacher.send('PUT', '/books/fens/rehearsal', { ...NOTHING, ...wrong })).status).toBe(400);
    expect((await school.teacher.must<Rehearsal>('GET', '/books/fens/rehearsal')).write).toEqual(was.write);
  });

  it('shows the last moment there is, where more time would go beyond it', async () => {
    await school.pool.query(`update assessment set due = '2999-12-31T23:00:00Z' where id = 'moss'`);
    const seen = await put({ extraTimeHours: 10_000 });
    expect(seen.page.work.find((w) => w.id === 'moss')?.due).toBe('2999-12-31T23:59:59.999Z');
    await school.pool.query(`update assessment set due = '2026-10-10T16:00:00Z' where id = 'moss'`);
  });

  it('goes on without what the book has no place for any more', async () => {
    await put({
      cells: [
        { assessment: 'moss', entry: score(3), released: true },
        { assessment: 'test', entry: score(20), released: true },
      ],
    });
    await school.pool.query(`update assessment set archived_at = now() where id = 'test'`);
    const seen = await school.teacher.must<Rehearsal>('GET', '/books/fens/rehearsal');
    expect(seen.write.cells.map((c) => c.assessment)).toEqual(['moss']);
    await school.pool.query(`update assessment set archived_at = null where id = 'test'`);
  });
});
