import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { damageRules } from '../../testing/sql';
import { operation, type Answer, type Person } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';

let school: TestSchool;
let other: TestSchool;
beforeAll(async () => {
  [school, other] = await Promise.all([testSchool(), testSchool()]);
});
afterAll(() => Promise.all([school.close(), other.close()]));

const lines = async (): Promise<number> =>
  (await school.pool.query<{ seq: number }>(`select seq from book where id = 'fens'`)).rows[0]!.seq;
const said = (a: Answer): unknown[] => [a.status, a.body['code']];

/** One act of each kind on the book as it is, as a page sends it. */
const acts = (): [what: string, method: string, path: string, body: () => object, other: object][] => {
  const cell = { assessment: 'moss', enrolment: school.benId };
  return [
    ['a score', 'PUT', `/books/fens/entries/moss/${school.adaId}`, () => ({ version: 0, change: { kind: 'score', points: 3 } }), { change: { kind: 'score', points: 4 } }],
    ['a state', 'PUT', `/books/fens/entries/reed/${school.adaId}`, () => ({ version: 0, change: { kind: 'state', state: 'excused' }, reason: 'ill' }), { reason: 'away' }],
    ['an intake', 'POST', '/books/fens/intake', () => ({ title: 'file', cells: [{ ...cell, version: 0, change: { kind: 'score', points: 5 } }] }), { title: 'another' }],
    ['a paste', 'POST', '/books/fens/changes', () => ({ kind: 'paste', cells: [{ ...cell, version: 1, change: { kind: 'score', points: 6 } }] }), { kind: 'fill' }],
    ['an undo', 'POST', '/books/fens/undo', () => ({}), {}],
    ['a redo', 'POST', '/books/fens/redo', () => ({}), {}],
    ['an override', 'PUT', `/books/fens/overrides/${school.adaId}`, () => ({ version: 0, percent: 50, letter: null, reason: 'board', until: null }), { percent: 51 }],
    ['an assessment', 'POST', '/books/fens/assessments', () => ({ id: 'fern', title: 'Fern', category: 'work', points: 5, due: null, closes: null, takesWork: false, more: {} }), { points: 6 }],
    ['other points', 'PATCH', '/books/fens/assessments/fern', () => ({ version: 1, points: 7, reason: 'slip', tell: null }), { points: 8 }],
    ['an order', 'PUT', '/books/fens/assessment-order', () => ({ order: ['fern', 'moss', 'reed', 'test'], moves: [] }), { order: ['moss', 'fern', 'reed', 'test'] }],
    ['deleting', 'DELETE', '/books/fens/assessments/fern', () => ({ version: 2 }), { version: 1 }],
    ['a release', 'POST', '/books/fens/release', () => ({ assessment: 'moss', enrolments: null, moveRules: true }), { assessment: 'reed' }],
    ['a withdrawal', 'POST', '/books/fens/withdraw', () => ({ assessment: 'moss', enrolments: null }), { assessment: 'reed' }],
    ['a section', 'PUT', '/books/fens/sections/south', () => ({ title: 'South', reason: '' }), { title: 'East' }],
    ['extra time', 'PATCH', '/books/fens/enrolments', () => ({ enrolments: [school.cleoId], extraTimeHours: 2, reason: 'plan' }), { extraTimeHours: 3 }],
    ['staff', 'PUT', '/books/fens/staff/stranger', () => ({ role: 'marker', reason: '' }), { role: 'reviewer' }],
    ['a group', 'PUT', '/books/fens/groups/g1', () => ({ version: 0, title: 'Boat', members: [school.adaId] }), { title: 'Barge' }],
    ['a note', 'PUT', `/books/fens/staff-notes/${school.adaId}/moss`, () => ({ version: 0, note: 'see me' }), { note: 'no' }],
    ['a title', 'PATCH', '/books/fens', () => ({ title: 'Fens and bogs' }), { title: 'Bogs' }],
  ]; // prettier-ignore
};

describe('the same operation', () => {
  it('once more changes nothing and gets the same answer; with something else, or from somebody else, none', async () => {
    for (const [what, method, path, body, change] of acts()) {
      const sent = { operation: operation(), ...body() };
      const first = await school.teacher.send(method, path, sent);
      expect([what, first.status < 300, first.text]).toEqual([what, true, first.text]);
      const after = await lines();
      const again = await school.teacher.send(method, path, sent);
      expect([what, again.status, again.text]).toEqual([what, first.status, first.text]);
      if (Object.keys(change).length > 0)
        expect([what, ...said(await school.teacher.send(method, path, { ...sent, ...change }))]).toEqual([
          what,
          409,
          'operation-used',
        ]);
      expect([what, ...said(await school.coTeacher.send(method, path, sent))]).toEqual([what, 409, 'operation-used']);
      expect([what, await lines()]).toEqual([what, after]);
    }
  });

  it('is one however many send it at once', async () => {
    const sent = { operation: operation(), kind: 'change', cells: [{ assessment: 'test', enrolment: school.adaId, version: 0, change: { kind: 'score', points: 9 } }] }; // prettier-ignore
    const before = await lines();
    const answers = await Promise.all(
      Array.from({ length: 8 }, () => school.teacher.send('POST', '/books/fens/changes', sent)),
    );
    expect(new Set(answers.map((a) => `${a.status} ${a.text}`)).size).toBe(1);
    expect((await lines()) - before).toBe(1);
  });

  it('under the id of a single score is refused to everything else, and the other way round', async () => {
    const [one, many] = [operation(), operation()];
    const cell = { assessment: 'reed', enrolment: school.cleoId };
    const path = `/books/fens/entries/reed/${school.cleoId}`;
    await school.teacher.must('PUT', path, { operation: one, version: 0, change: { kind: 'score', points: 1 } });
    const changes = { operation: many, kind: 'fill', cells: [{ ...cell, version: 1, change: { kind: 'score', points: 2 } }] }; // prettier-ignore
    await school.teacher.must('POST', '/books/fens/changes', changes);
    const before = await lines();
    expect(said(await school.teacher.send('POST', '/books/fens/changes', { ...changes, operation: one }))).toEqual([
      409,
      'operation-used',
    ]);
    const score = { operation: many, version: 2, change: { kind: 'score', points: 3 } };
    expect(said(await school.teacher.send('PUT', path, score))).toEqual([409, 'operation-used']);
    expect(await lines()).toBe(before);
  });
});

describe('whoever was let in', () => {
  /** Holds the book's lock until `work` is through, so that what is sent waits behind it. */
  async function behindLock(send: () => Promise<Answer>, work: string): Promise<Answer> {
    const client = await school.pool.connect();
    try {
      await client.query('begin');
      await client.query(`select 1 from book where id = 'fens' for update`);
      const waits = send();
      await expect
        .poll(async () => (await school.pool.query(`select 1 from pg_locks where not granted`)).rowCount, {
          timeout: 60_000,
        })
        .toBeGreaterThan(0);
      await client.query(work);
      await client.query('commit');
      return await waits;
    } finally {
      client.release();
    }
  }
  const change = (who: Person) => () =>
    who.send('POST', '/books/fens/changes', {
      operation: operation(),
      kind: 'change',
      cells: [{ assessment: 'test', enrolment: school.benId, version: 0, change: { kind: 'score', points: 2 } }],
    });

  it('and was taken off the book, or made inactive, while waiting for it changes nothing', async () => {
    const before = await lines();
    const marker = `person = (select id from person where login = 'marker')`;
    expect(said(await behindLock(change(school.marker), `delete from book_staff where ${marker}`))).toEqual([
      404,
      'not-found',
    ]);
    await school.teacher.must('PUT', '/books/fens/staff/marker', {
      operation: operation(),
      role: 'marker',
      reason: '',
    });
    const inactive = await behindLock(change(school.marker), `update person set active = false where login = 'marker'`);
    expect(said(inactive)).toEqual([404, 'not-found']);
    await school.pool.query('update person set active = true');
    const archived = await behindLock(change(school.marker), `update book set archived_at = now() where id = 'fens'`);
    expect(said(archived)).toEqual([403, 'not-allowed']);
    await school.pool.query('update book set archived_at = null');
    expect(await lines()).toBe(before + 1);
  });
});

describe('what could not be opened again', () => {
  const put = (change: object) =>
    school.teacher.send('PUT', `/books/fens/entries/test/${school.cleoId}`, { operation: operation(), version: 0, change }); // prettier-ignore

  it.each([
    ['a day beyond all calendars', { kind: 'due', dueAt: '9999-12-31T17:00:00Z' }],
    ['a day before them', { kind: 'received', at: '0999-01-01T12:00:00Z' }],
    ['a day that its offset moves out', { kind: 'late-at', receivedAt: '2999-12-31T23:59:59-12:00' }],
    ['and one at the other end', { kind: 'dates', dueAt: '1900-01-01T00:00:00+12:00', closesAt: null }],
    ['a second that is none', { kind: 'received', at: '2026-12-31T23:59:60Z' }],
    ['a mark that the assessment has not', { kind: 'mark', label: 'Splendid' }],
    ['a score and a mark in one', { kind: 'put', entry: { attempts: [{ score: 1, mark: 'A' }] } }],
  ])('%s is refused in a sentence, at either door', async (_what, change) => {
    const before = await lines();
    const straight = await put(change);
    expect([straight.status, straight.body['detail']]).toEqual([400, expect.stringMatching(/Nothing was changed\.$/)]);
    const cells = [{ assessment: 'test', enrolment: school.cleoId, version: 0, change }];
    for (const [path, body] of [
      ['/books/fens/changes', { kind: 'change', cells }],
      ['/books/fens/intake', { title: 'file', cells }],
    ] as const) {
      const refused = await school.teacher.send('POST', path, { operation: operation(), ...body });
      expect([refused.status, refused.body['detail']]).toEqual([400, expect.stringMatching(/Nothing was changed\.$/)]);
    }
    expect(await lines()).toBe(before);
  });

  it('an assessment due outside all calendars, extra time of years: refused, and the book opens', async () => {
    const made = { operation: operation(), id: 'late', title: 'Late', category: 'work', points: 5, closes: null, takesWork: false, more: {} }; // prettier-ignore
    const due = await school.teacher.send('POST', '/books/fens/assessments', { ...made, due: '2999-12-31T23:59:59-12:00' }); // prettier-ignore
    expect(due.status).toBe(400);
    const sections = { ...made, operation: operation(), due: null, more: { sectionDates: { north: { due: '9999-01-01T00:00:00Z' } } } }; // prettier-ignore
    expect((await school.teacher.send('POST', '/books/fens/assessments', sections)).status).toBe(400);
    const time = { operation: operation(), enrolments: [school.benId], extraTimeHours: 20_000, reason: 'x' };
    expect((await school.office.send('PATCH', '/books/fens/enrolments', time)).status).toBe(400);
    const students = [{ number: 'N9', section: null, extraTimeHours: 20_000 }];
    expect((await school.office.send('POST', '/books/fens/enrolments', { students })).status).toBe(400);
    await school.teacher.must('GET', '/books/fens/sheet');
  });

  it('a mark that is no mark any more does not come back by putting back', async () => {
    const { rows } = await school.pool.query<{ version: number; rules: string }>(
      `select version, rules from rules_version where book = 'fens' order by version desc limit 1`,
    );
    const version = rows[0]!.version;
    const rules = JSON.parse(rows[0]!.rules) as { rules: object };
    const marks = { quick: [{ label: 'Fine', percent: 90 }, { label: 'Thin', percent: 40 }] }; // prettier-ignore
    const write = (set: typeof marks, at: number) =>
      school.teacher.must<{ version: number }>('PUT', '/books/fens/rules', {
        operation: operation(),
        version: at,
        reason: 'marks',
        rules: { ...rules, rules: { ...rules.rules, marks: set } },
      });
    const now = await write(marks, version);
    await school.teacher.must('POST', '/books/fens/assessments', { operation: operation(), id: 'fen', title: 'Fen', category: 'work', points: 5, due: null, closes: null, takesWork: false, more: { marks: 'quick' } }); // prettier-ignore
    const path = `/books/fens/entries/fen/${school.benId}`;
    await school.teacher.must('PUT', path, { operation: operation(), version: 0, change: { kind: 'mark', label: 'Thin' } }); // prettier-ignore
    await school.teacher.must('PUT', path, { operation: operation(), version: 1, change: { kind: 'mark', label: 'Fine' } }); // prettier-ignore
    await write({ quick: [marks.quick[0]!] }, now.version);
    const undone = await school.teacher.send('POST', '/books/fens/undo', { operation: operation() });
    expect([undone.status, undone.body['detail']]).toEqual([400, expect.stringMatching(/Thin/)]);
    // What waited on a machine while the marks were changed is told so, and the book opens.
    const late = await school.teacher.send('PUT', path, { operation: operation(), version: 2, change: { kind: 'mark', label: 'Thin' } }); // prettier-ignore
    expect([late.status, late.body['detail']]).toEqual([
      400,
      '“Thin” is none of the marks of Fen. Nothing was changed.',
    ]);
    await school.teacher.must('GET', '/books/fens/sheet');
  });

  it('named marks are read from the journal where the disk has damaged the rules', async () => {
    const { rows } = await school.pool.query<{ version: number; rules: string }>(
      `select version, rules from rules_version where book = 'fens'`,
    );
    const path = `/books/fens/entries/fen/${school.benId}`;
    let version = 2;
    for (const damaged of [rows[0]!.rules.slice(0, 40), 'null', '{"tree":{}}']) {
      await damageRules(school.pool, 'fens', damaged);
      const give = (label: string) =>
        school.teacher.send('PUT', path, { operation: operation(), version, change: { kind: 'mark', label } });
      const none = await give('Thin');
      expect([none.status, none.body['detail']]).toEqual([
        400,
        '“Thin” is none of the marks of Fen. Nothing was changed.',
      ]);
      expect((await give('Fine')).status).toBe(200);
      version++;
    }
    for (const { version: of, rules } of rows)
      await school.pool.query(`update rules_version set rules = $2 where book = 'fens' and version = $1`, [of, rules]);
    // Another stamp of the book's row, as every change has.
    await school.pool.query(`update book set title = title where id = 'fens'`);
    await school.teacher.must('GET', '/books/fens/sheet');
  });
});

describe('one change by itself and one of a set', () => {
  const arbChange: fc.Arbitrary<object> = fc.oneof(
    fc.nat(200_000).map((n) => ({ kind: 'score', points: n / 10_000 })),
    fc.constant({ kind: 'clear' }),
    fc.constantFrom('excused', 'missing', 'awaiting', null).map((state) => ({ kind: 'state', state })),
    fc.nat(9).map((d) => ({ kind: 'received', at: `2026-10-1${d}T12:00:00.25+01:00` })),
    fc.nat(12_000).map((units) => ({ kind: 'late', units })),
    fc.constantFrom('2026-10-20T09:00:00Z', '2999-12-31T23:59:59-12:00', null).map((dueAt) => ({ kind: 'due', dueAt })),
    fc.boolean().map((waived) => ({ kind: 'on-time', waived })),
    fc.constantFrom('A', 'Fine').map((label) => ({ kind: 'mark', label })),
    fc.constantFrom({}, { attempts: [{ score: 1 }, { score: 2, onTime: true }] }).map((entry) => ({ kind: 'put', entry })),
  ); // prettier-ignore
  const arbActs = fc.array(
    fc.record({
      assessment: fc.constantFrom('moss', 'reed', 'test', 'gone'),
      student: fc.constantFrom('adaId', 'benId', 'cleoId') as fc.Arbitrary<'adaId' | 'benId' | 'cleoId'>,
      version: fc.nat(4),
      change: arbChange,
    }),
    { minLength: 4, maxLength: 10 },
  );
  /** What is kept, without what differs from one school to another. */
  const kept = async (s: TestSchool) => {
    const names = { [s.adaId]: 'ada', [s.benId]: 'ben', [s.cleoId]: 'cleo' };
    const { rows } = await s.pool.query<{ enrolment: string | null }>(
      `select kind, assessment, enrolment, was, becomes from journal where book = 'fens' and kind = 'cell' order by seq`,
    );
    const { rows: cells } = await s.pool.query<{ enrolment: string }>(
      `select e.assessment, e.enrolment, e.version, e.state, e.due_at, e.set_points, e.protected, count(a.number)::int as attempts,
         sum(a.score) as sum from entry e left join attempt a using (school, book, assessment, enrolment)
       where e.book = 'fens' group by e.school, e.book, e.assessment, e.enrolment order by 1, e.version, 4, 5, attempts, sum`,
    );
    const named = <T extends { enrolment: string | null }>(r: T) => ({ ...r, enrolment: names[r.enrolment ?? ''] });
    return { lines: rows.map(named), cells: cells.map(named) };
  };

  it('leave the same rows, lines and answers', async () => {
    for (const s of [school, other])
      for (const table of ['attempt', 'entry']) await s.pool.query(`delete from ${table} where book = 'fens'`);
    await school.pool.query(`alter table journal disable trigger user`);
    await school.pool.query(`delete from journal where book = 'fens' and kind = 'cell'`);
    await school.pool.query(`alter table journal enable trigger user`);
    await fc.assert(
      fc.asyncProperty(arbActs, async (wanted) => {
        for (const { assessment, student, version, change } of wanted) {
          const sent = { operation: operation(), version, change };
          const alone = await school.teacher.send('PUT', `/books/fens/entries/${assessment}/${school[student]}`, sent);
          const set = { operation: sent.operation, kind: 'change', cells: [{ assessment, enrolment: other[student], version, change }] }; // prettier-ignore
          const among = await other.teacher.send<{ cells?: object[] }>('POST', '/books/fens/changes', set);
          expect([alone.status, alone.body['code'], alone.body['version'], alone.body['entry']]).toEqual([
            among.status,
            (among.body as { code?: string }).code,
            ...(['version', 'entry'] as const).map((k) => (among.body.cells?.[0] as Record<string, unknown>)?.[k]),
          ]);
        }
        expect(await kept(school)).toEqual(await kept(other));
      }),
      { numRuns: 12, seed: 20_261_127 },
    );
  });
});
