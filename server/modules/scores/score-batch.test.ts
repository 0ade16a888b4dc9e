import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { readCells, type CellRow } from '../../kernel/cells/sql';
import { operation, Person, type Answer } from '../../testing/person';
import { PASSWORD, testSchool, type TestSchool } from '../../testing/school';
import { plansOf } from '../../testing/sql';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
});
afterAll(() => school.close());

type Sheet = {
  version: Record<string, unknown>;
  document: { entries: ({ student: string; item: string } & Record<string, unknown>)[] };
  releaseStates: number[];
};
const sheet = (): Promise<Sheet> => school.teacher.must<Sheet>('GET', '/books/fens/sheet');

/** What a person has in hand of a cell: the version that they saw. */
const versions = new Map<string, number>();
async function put(who: Person, assessment: string, enrolment: string, change: unknown, more = {}): Promise<Answer> {
  const key = `${assessment} ${enrolment}`;
  const version = versions.get(key) ?? 0;
  const path = `/books/fens/entries/${assessment}/${enrolment}`;
  const answer = await who.send('PUT', path, { operation: operation(), version, change, ...more });
  if (answer.status === 200) versions.set(key, answer.body['version'] as number);
  return answer;
}
const score = (points: number) => ({ kind: 'score', points });
const said = (a: Answer): unknown[] => [a.status, a.body['code']];

/** A generator that gives the same numbers each time. */
function dice(seed: number): (n: number) => number {
  return (n) => {
    seed = (Math.imul(seed, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((seed / 2 ** 32) * n);
  };
}

const CHANGES: ((d: (n: number) => number) => object)[] = [
  (d) => score(d(200_000) / 10_000),
  () => ({ kind: 'clear' }),
  (d) => ({ kind: 'state', state: ['excused', 'missing', 'awaiting', null][d(4)] }),
  (d) => ({ kind: 'received', at: `2026-10-1${d(10)}T12:00:00.${d(10)}5+01:00` }),
  (d) => ({ kind: 'late', units: d(4) }),
  (d) => ({ kind: 'late-at', receivedAt: `2026-10-2${d(10)}T09:30:00Z` }),
  (d) => ({ kind: 'on-time', waived: d(2) === 0 }),
  (d) => ({ kind: 'protect', on: d(2) === 0 }),
  (d) => ({ kind: 'put', entry: d(3) === 0 ? {} : { protected: false, attempts: [{ score: d(20), onTime: false }] } }),
  (d) => ({ kind: 'put', entry: { attempts: [{ score: d(20) }, { score: d(20), onTime: true }, { lateUnits: 2 }] } }),
];

describe('what a server knows of a book', () => {
  /** The cells as the database has them, in one order. */
  const inOrder = (cells: CellRow[]) =>
    cells
      .map(({ assessment, enrolment, version, content, releaseState: out }) => ({
        assessment,
        enrolment,
        version,
        content,
        out,
      }))
      .sort((a, b) => (a.assessment + a.enrolment < b.assessment + b.enrolment ? -1 : 1));

  it.each([1, 2, 3])('stays what the database has, whatever is changed (%i)', async (seed) => {
    const d = dice(seed);
    await school.release('moss', null);
    for (let i = 0; i < 60; i++) {
      const [assessment, enrolment] = [['moss', 'reed'][d(2)]!, [school.adaId, school.benId][d(2)]!];
      const answer = await put(school.teacher, assessment, enrolment, CHANGES[d(CHANGES.length)]!(d));
      expect([answer.status, answer.text]).toEqual([200, answer.text]);
      // A paste goes another way, past what is known.
      if (d(8) === 0) {
        const cell = { assessment: 'reed', enrolment: school.cleoId };
        const version = versions.get(`reed ${school.cleoId}`) ?? 0;
        await school.teacher.must('POST', '/books/fens/changes', {
          operation: operation(),
          kind: 'paste',
          cells: [{ ...cell, version, change: score(d(10)) }],
        });
        versions.set(`reed ${school.cleoId}`, version + 1);
      }
      if (d(5) > 0) continue;
      const now = await sheet();
      const kept = inOrder(await readCells(school.pool, 'tarn', 'fens'));
      const told = now.document.entries.map(({ student, item, ...content }, at) => [
        item,
        student,
        content,
        now.releaseStates[at],
      ]);
      const filled = kept.filter((c) => Object.keys(c.content).length > 0);
      const byPlace = (a: unknown[], b: unknown[]) => (`${a[0]}${a[1]}` < `${b[0]}${b[1]}` ? -1 : 1);
      expect(told.filter((t) => Object.keys(t[2] as object).length > 0).sort(byPlace)).toEqual(
        filled.map((c) => [c.assessment, c.enrolment, c.content, c.out]),
      );
    }
  });

  it('tells that what was changed back is what students see', async () => {
    await put(school.teacher, 'test', school.benId, score(20));
    await school.release('test', [school.benId]);
    const away = await put(school.teacher, 'test', school.benId, score(21));
    const back = await put(school.teacher, 'test', school.benId, score(20));
    expect([away.body['releaseState'], back.body['releaseState']]).toEqual([2, 1]);
  });

  it('is written by a statement that is planned once, not for every score anew', async () => {
    const before = await plansOf(school.pool, 'keep-scores');
    for (let i = 0; i < 12; i++)
      expect((await put(school.teacher, 'reed', school.benId, score(i % 9))).status).toBe(200);
    const after = await plansOf(school.pool, 'keep-scores');
    // A database tries five plans of its own before it goes by one for all.
    expect(after.custom).toBeLessThanOrEqual(5);
    expect(after.generic - before.generic).toBeGreaterThanOrEqual(7);
  });

  it('answers an operation that stands in the journal once more, and refuses its id for anything else', async () => {
    const write = { operation: operation(), version: 0, change: score(3) };
    const path = (enrolment: string) => `/books/fens/entries/test/${enrolment}`;
    await school.teacher.must('PUT', path(school.adaId), write);
    await put(school.teacher, 'test', school.cleoId, { kind: 'clear' });
    const before = await school.pool.query('select seq from book where id = $1', ['fens']);
    const again = await school.teacher.send('PUT', path(school.adaId), write);
    expect([again.status, again.body['version'], again.body['entry']]).toEqual([200, 1, { attempts: [{ score: 3 }] }]);
    for (const [person, to, other] of [
      [school.teacher, school.cleoId, { ...write, version: 1 }],
      [school.teacher, school.adaId, { ...write, version: 1, change: score(4) }],
      [school.coTeacher, school.adaId, write],
    ] as const) {
      const refused = await person.send('PUT', path(to), other);
      expect([refused.status, refused.body['code']]).toEqual([409, 'operation-used']);
    }
    expect((await school.pool.query('select seq from book where id = $1', ['fens'])).rows).toEqual(before.rows);
  });
});

describe('somebody who was let in lately', () => {
  let marker: Person;
  let points = 0;
  const mark = (who = marker): Promise<Answer> => put(who, 'moss', school.cleoId, score(++points % 20));
  beforeEach(async () => {
    marker = await Person.signedIn(school.address, 'marker', PASSWORD);
    expect((await mark()).status).toBe(200);
    expect((await mark()).status).toBe(200);
  });
  const run = (sql: string): Promise<unknown> => school.pool.query(sql);

  it.each([
    [
      'signed out',
      `delete from session where sess ->> 'person' = (select id from person where login = 'marker')`,
      null,
    ],
    [
      'ended by its time',
      `update session set expire = now() - interval '1 second' where true`,
      "update session set expire = now() + interval '1 hour'",
    ],
    [
      'not active any more',
      `update person set active = false where login = 'marker'`,
      `update person set active = true where login = 'marker'`,
    ],
  ])('is let in no more when %s, at once', async (_how, sql, back) => {
    await run(sql);
    const refused = await mark();
    if (back) await run(back);
    expect(said(refused)).toEqual([401, 'not-signed-in']);
    if (back) expect((await mark()).status).toBe(200);
  });

  it.each([
    [
      'taken off the staff',
      `delete from book_staff where person = (select id from person where login = 'marker') returning 1`,
      404,
      'not-found',
    ],
    [
      'made a reviewer',
      `update book_staff set role = 'reviewer' where person = (select id from person where login = 'marker')`,
      403,
      'not-allowed',
    ],
  ])('is refused when %s, with nothing changed', async (_how, sql, status, code) => {
    const { rows } = await school.pool.query<{ person: string }>(
      `select person from book_staff where book = 'fens' and person = (select id from person where login = 'marker')`,
    );
    await run(sql);
    const seq = (await school.pool.query<{ seq: number }>(`select seq from book where id = 'fens'`)).rows[0]!.seq;
    expect(said(await mark())).toEqual([status, code]);
    // Others, in the same rollout or not, are kept.
    const [refused, kept] = await Promise.all([mark(), put(school.teacher, 'reed', school.cleoId, score(points % 10))]);
    expect([said(refused), kept.status]).toEqual([[status, code], 200]);
    const lines = await school.pool.query(`select person from journal where book = 'fens' and seq > $1`, [seq]);
    expect(lines.rows.map((l: { person: string }) => l.person)).not.toContain(rows[0]!.person);
    await school.pool.query(
      `insert into book_staff (school, book, person, role) values ('tarn', 'fens', $1, 'marker')
       on conflict (school, book, person) do update set role = 'marker'`,
      [rows[0]!.person],
    );
    expect((await mark()).status).toBe(200);
  });

  it('does not write into a book that was put away', async () => {
    await run(`update book set archived_at = now() where id = 'fens'`);
    // The sheet is read, so the server knows the book as it is now.
    await sheet();
    const refused = await mark();
    await run(`update book set archived_at = null where id = 'fens'`);
    expect([...said(refused), refused.body['detail']]).toEqual([403, 'not-allowed', expect.stringMatching(/put away/)]);
    expect((await mark()).status).toBe(200);
  });

  it('needs their own page’s token each time', async () => {
    const thief = new Person(school.address);
    Object.assign(thief, { cookie: marker.cookie, token: 'not-it' });
    expect(said(await mark(thief))).toEqual([403, 'not-genuine']);
    const path = `/books/fens/entries/moss/${school.cleoId}`;
    const write = { operation: operation(), version: versions.get(`moss ${school.cleoId}`), change: score(1) };
    const foreign = await marker.send('PUT', path, write, { 'sec-fetch-site': 'cross-site' });
    expect(said(foreign)).toEqual([403, 'not-genuine']);
  });

  it('is asked again before a change that wants a reason', async () => {
    await run(`delete from session where sess ->> 'person' = (select id from person where login = 'marker')`);
    const excused = await put(marker, 'moss', school.cleoId, { kind: 'state', state: 'excused' }, { reason: 'ill' });
    expect(said(excused)).toEqual([401, 'not-signed-in']);
  });
});
