import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { canonical } from '@core/book/canonical';
import type { RulesPart } from '@core/book/change';
import type { BookDocument } from '@core/book/document';
import { computeBook } from '@core/calculation/result';
import { MATTERS, OPEN_SCHOOL, STANDS, type Matter, type SchoolRules, type Stand } from '@core/school/document';
import type { RulesState, Sheet } from '@contract/books';
import type {
  BookDepartures,
  SchoolDepartures,
  SchoolRulesMade,
  SchoolRulesState,
  SchoolTurn,
  TurnMovers,
} from '@contract/school-rules';
import { assemble, assembleDocument } from '../domain/books';
import { makeSchoolRules } from '../domain/school-rules';
import { workNext } from '../domain/school-turns';
import { transaction } from '../store/database';
import { takeNext } from '../store/school-turns';
import { operation, type Person } from './person';
import { RULES, testSchool, type TestSchool } from './school';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
  await school.put('moss', school.adaId, 1, { kind: 'late-at', receivedAt: '2026-10-13T10:00:00Z' });
  await school.put('moss', school.benId, 0, { kind: 'score', points: 11 });
  await school.put('reed', school.benId, 0, { kind: 'score', points: 4.5 });
  await school.put('reed', school.benId, 1, { kind: 'late', units: 2 });
});
afterAll(() => school.close());

const says = (stands: Partial<Record<Matter, Stand>>, more: Partial<SchoolRules> = {}): SchoolRules => ({
  ...OPEN_SCHOOL,
  ...more,
  rules: { ...OPEN_SCHOOL.rules, ...more.rules },
  stands: { ...OPEN_SCHOOL.stands, ...stands },
});
const now = (): Promise<SchoolRulesState> => school.office.must<SchoolRulesState>('GET', '/school-rules');
async function tryIt(rules: SchoolRules): Promise<SchoolTurn> {
  const id = operation();
  await school.office.must('POST', '/school-rules/turns', { id, version: (await now()).version, rules });
  await school.turns.idle();
  return school.office.must<SchoolTurn>('GET', `/school-rules/turns/${id}`);
}
async function make(rules: SchoolRules, reason = 'the board says so'): Promise<SchoolTurn> {
  const { turn } = await school.office.must<SchoolRulesMade>('PUT', '/school-rules', {
    operation: operation(),
    version: (await now()).version,
    reason,
    rules,
  });
  await school.turns.idle();
  return school.office.must<SchoolTurn>('GET', `/school-rules/turns/${turn}`);
}
const sheet = (book: string): Promise<Sheet> => school.office.must<Sheet>('GET', `/books/${book}/sheet`);
async function standings(book: string): Promise<Map<string, string>> {
  const { students } = computeBook((await sheet(book)).document);
  return new Map(students.map((s) => [s.id, canonical([s.percent === null ? null : Number(s.percent), s.letter])]));
}
const rulesOf = async (book: string): Promise<RulesPart> => (await sheet(book)).document as RulesPart;
const putRules = async (who: Person, book: string, rules: Partial<RulesPart>, reason: string, items?: object[]) => {
  const { rulesVersion } = await who.must<{ rulesVersion: number }>('GET', `/books/${book}`);
  const { rows } = await school.pool.query<{ rules: string }>(
    'select rules from rules_version where book = $1 and version = $2',
    [book, rulesVersion],
  );
  return who.send<RulesState & { says?: string }>('PUT', `/books/${book}/rules`, {
    operation: operation(),
    version: rulesVersion,
    reason,
    rules: { ...(JSON.parse(rows[0]!.rules) as RulesPart), ...rules },
    ...(items ? { items } : {}),
  });
};
const LETTERS = RULES.rules!.scales!['letters']!;
const withLetters = (a: number): Partial<SchoolRules> => ({
  scale: 'letters',
  rules: {
    scales: { letters: { bands: LETTERS.bands.map((b) => (b.label === 'A' ? { ...b, from: a } : b)) } },
  },
});

describe('the rules of a school', () => {
  it('say nothing before the office does, and a book departs from nothing', async () => {
    expect(await now()).toEqual({ version: 0, rules: OPEN_SCHOOL, made: null });
    expect(await school.teacher.must('GET', '/books/fens/departures')).toEqual([]);
  });

  it('are refused whole where they are not sound or somebody else’s came before', async () => {
    const write = (more: object) => ({
      operation: operation(),
      version: 0,
      reason: 'why',
      rules: OPEN_SCHOOL,
      ...more,
    });
    const bad = await school.office.send(
      'PUT',
      '/school-rules',
      write({ rules: { ...OPEN_SCHOOL, blank: 'nowhere' } }),
    );
    expect([bad.status, bad.body['faults']]).toEqual([400, [expect.objectContaining({ at: '/blank' })]]);
    expect((await school.office.send('PUT', '/school-rules', write({ reason: ' ' }))).status).toBe(400);
    expect((await school.office.send('PUT', '/school-rules', write({ version: 3 }))).status).toBe(409);
    const trial = { id: 'trial-of-it', version: 3, rules: OPEN_SCHOOL };
    expect((await school.office.send('POST', '/school-rules/turns', trial)).status).toBe(409);
    expect((await now()).version).toBe(0);
  });

  it('change a book that goes by them and leave one that departs; the trial has said who moves', async () => {
    await make(
      says(
        { letters: 'begins', late: 'begins' },
        { ...withLetters(80), late: 'steady', rules: { ...withLetters(80).rules, late: RULES.rules!.late! } },
      ),
    );
    expect(await school.teacher.must('GET', '/books/fens/departures')).toEqual([]);
    const own = await putRules(school.stranger, 'hills', { rounding: { decimals: 2, mode: 'down' } }, '');
    expect(own.status).toBe(200);
    const refused = await putRules(school.stranger, 'hills', { scale: null }, ' ');
    expect([refused.status, refused.body.says]).toEqual([400, expect.stringContaining('letters: say why')]);
    expect((await putRules(school.stranger, 'hills', { scale: null }, 'a pass is a pass')).status).toBe(200);
    const departs = await school.office.must<SchoolDepartures>('GET', '/school-rules/departures');
    expect(departs).toMatchObject([
      {
        book: 'hills',
        departures: [
          {
            departure: { matter: 'letters', place: { kind: 'default' }, is: null, school: 'letters' },
            since: { by: 'S. stranger', reason: 'a pass is a pass' },
          },
        ],
      },
    ]);

    const harder = { ...(await now()).rules, ...withLetters(44) };
    harder.rules = { ...(await now()).rules.rules, ...withLetters(44).rules };
    const before = await standings('fens');
    const trial = await tryIt(harder);
    expect(trial.books.map((b) => [b.book, b.state, b.departs])).toEqual([
      ['fens', 'takes', []],
      ['hills', 'takes', ['letters']],
    ]);
    expect(await standings('fens')).toEqual(before);
    const movers = await school.office.must<TurnMovers>('GET', `/school-rules/turns/${trial.id}/books/fens`);
    expect(movers.map((m) => [m.name, m.before.letter, m.after.letter])).toEqual([['Ben Birch', 'F', 'A']]);
    const made = await make(harder, 'A begins earlier');
    expect(made.books.map((b) => b.state)).toEqual(['takes', 'takes']);
    expect((await rulesOf('fens')).rules!.scales!['letters']!.bands[0]).toEqual({ label: 'A', from: 44 });
    expect((await rulesOf('hills')).scale).toBeNull();
    const { rows } = await school.pool.query<{ reason: string }>(
      `select r.reason from journal j join journal_reason r using (school, book, batch) where j.book = 'fens' and j.kind = 'rules'`,
    );
    expect(rows.map((r) => r.reason)).toEqual(['School rules: A begins earlier']);
    expect(await school.office.must('GET', '/school-rules/versions')).toMatchObject([
      { version: 2, reason: 'A begins earlier', by: 'U. Office' },
      { version: 1 },
    ]);
  });

  it('that are fixed are taken on by every book, and no change of a book leads out of them', async () => {
    const { rules } = await now();
    await make({ ...rules, stands: { ...rules.stands, letters: 'fixed', late: 'fixed' } }, 'one school, one scale');
    expect((await rulesOf('hills')).scale).toBe('letters');
    const departing = await putRules(school.teacher, 'fens', { scale: null }, 'I want to');
    expect([departing.status, departing.body.says]).toEqual([400, expect.stringContaining('has fixed letters')]);
    const mossNow = async () =>
      (await school.teacher.must<{ id: string; version: number }[]>('GET', '/books/fens/assessments')).find(
        (a) => a.id === 'moss',
      )!;
    const moss = await school.teacher.send('PATCH', '/books/fens/assessments/moss', {
      ...(await wholeWrite('moss')),
      more: { late: null },
    });
    expect([moss.status, moss.body['says']]).toEqual([400, expect.stringContaining('has fixed lateness')]);
    const together = await putRules(school.teacher, 'fens', {}, 'why not', [
      { assessment: 'moss', version: (await mossNow()).version, more: { late: null } },
    ]);
    expect(together.status).toBe(400);
    // What the school made in a book is its teacher’s to look at, and not to put back.
    const line = await school.pool.query<{ batch: string }>(
      `select batch from journal where book = 'hills' and kind = 'rules' order by seq desc limit 1`,
    );
    const back = await school.stranger.send('POST', `/books/hills/journal/${line.rows[0]!.batch}/put-back`, {
      operation: operation(),
      leaveLater: false,
      reason: 'it was better before',
    });
    expect([back.status, back.body['says']]).toEqual([400, expect.stringContaining('has fixed letters')]);
    expect((await rulesOf('hills')).scale).toBe('letters');
  });

  async function wholeWrite(id: string): Promise<object> {
    const list = await school.teacher.must<Record<string, unknown>[]>('GET', '/books/fens/assessments');
    const a = list.find((x) => x['id'] === id)!;
    const pick = ['title', 'category', 'points', 'due', 'closes', 'takesWork', 'shown', 'more', 'version', 'archived'];
    return {
      ...Object.fromEntries(pick.map((k) => [k, a[k]])),
      operation: operation(),
      reason: '',
      tell: null,
    };
  }

  it('are what a new book begins with, and a copy', async () => {
    const first = { ...RULES, rules: { blank: RULES.rules!.blank! }, late: null, scale: null };
    await school.office.must('POST', '/books', {
      id: 'new',
      term: 'autumn',
      title: 'New',
      sections: [],
      staff: [{ login: 'teacher', role: 'teacher' }],
      rules: first,
    });
    expect(await rulesOf('new')).toMatchObject({ scale: 'letters', late: 'steady' });
    expect(await school.office.must('GET', '/books/new/departures')).toEqual([]);
  });

  it('that a book cannot take on leave it as it is, and say so', async () => {
    const marks = (labels: string[]): SchoolRules['rules'] => ({
      ...OPEN_SCHOOL.rules,
      marks: { words: labels.map((label, i) => ({ label, percent: 100 - 50 * i })) },
    });
    await make(says({ marks: 'fixed' }, { rules: marks(['Yes', 'Nearly', 'No'])! }));
    await school.teacher.must('POST', '/books/fens/assessments', {
      operation: operation(),
      id: 'viva',
      title: 'Viva',
      category: 'tests',
      points: 10,
      due: null,
      closes: null,
      takesWork: false,
      more: { marks: 'words' },
    });
    await school.put('viva', school.adaId, 0, { kind: 'mark', label: 'Nearly' });
    const fewer = says({ marks: 'fixed' }, { rules: marks(['Yes', 'No'])! });
    const trial = await tryIt(fewer);
    const of = (turn: SchoolTurn) => turn.books.find((b) => b.book === 'fens')!;
    expect(of(trial)).toMatchObject({ state: 'refused', says: expect.stringContaining('“Nearly” on Viva') });
    const made = await make(fewer);
    expect(of(made)).toMatchObject({ state: 'refused', says: of(trial).says });
    expect(made.books.find((b) => b.book === 'hills')!.state).toBe('takes');
    expect((await rulesOf('fens')).rules!.marks!['words']).toHaveLength(3);
    expect(await school.office.must<BookDepartures>('GET', '/books/fens/departures')).toMatchObject([
      { departure: { matter: 'marks', place: { kind: 'rule', name: 'words' } }, title: 'words' },
    ]);
    await make(says({ marks: 'fixed' }, { rules: marks(['Yes', 'Nearly', 'No'])! }));
  });

  it('do not reach a book that is put away, nor one whose term has ended', async () => {
    await school.office.must('POST', '/terms', { id: 'past', title: 'Past', starts: '2026-01-01', ends: '2026-06-01' });
    await school.office.must('POST', '/books', {
      id: 'old',
      term: 'past',
      title: 'Old',
      sections: [],
      staff: [],
      rules: RULES,
    });
    await school.teacher.must('PATCH', '/books/new', { operation: operation(), archived: true });
    const trial = await tryIt(says({ rounding: 'fixed' }, { rounding: { decimals: 3, mode: 'down' } }));
    expect(trial.books.map((b) => b.book)).toEqual(['fens', 'hills']);
  });

  it('stand as they were made: the database refuses to alter a version', async () => {
    for (const sql of ['update school_rules set reason = $1', 'delete from school_rules where reason <> $1'])
      await expect(school.pool.query(sql, ['other'])).rejects.toThrow(/never altered/);
  });
});

describe('a turn of a school’s rules', () => {
  it('tried is the person’s alone, ends with the next and when it is dropped; made, it goes on', async () => {
    const rules = says({ rounding: 'begins' });
    const a = await tryIt(rules);
    const b = await tryIt(rules);
    const gone = (id: string) => school.office.send('GET', `/school-rules/turns/${id}`);
    expect([(await gone(a.id)).status, (await gone(b.id)).status]).toEqual([404, 200]);
    await school.office.must('DELETE', `/school-rules/turns/${b.id}`);
    expect((await gone(b.id)).status).toBe(404);
    const made = await make(rules);
    expect((await school.office.send('DELETE', `/school-rules/turns/${made.id}`)).status).toBe(400);
  });

  it('goes on where whoever worked on it is lost, and is made once in each book, in order, by any number of workers', async () => {
    const who = await school.pool.query<{ id: string; school: string }>(
      `select id, school from person where login = 'office'`,
    );
    const by = { school: who.rows[0]!.school, person: who.rows[0]!.id };
    const seqs = async (): Promise<number> =>
      (await school.pool.query<{ n: number }>('select sum(seq)::int as n from book')).rows[0]!.n;
    const first = await seqs();
    // Nobody is woken by these.
    for (const decimals of [2, 3, 4]) {
      const { version } = await now();
      const rules = says({ rounding: 'begins' }, { rounding: { decimals, mode: 'half-up' } });
      await makeSchoolRules(school.pool, by, { operation: operation(), version, reason: 'finer', rules });
    }
    await expect(
      transaction(school.pool, async (db) => {
        expect(await takeNext(db)).not.toBeNull();
        throw new Error('lost');
      }),
    ).rejects.toThrow('lost');
    const failures: unknown[] = [];
    const all = async (): Promise<void> => {
      for (let idle = 0; idle < 20;) {
        if (await workNext(school.pool, (e) => failures.push(e))) idle = 0;
        else await new Promise((done) => setTimeout(done, ++idle));
      }
    };
    await Promise.all([all(), all(), all()]);
    expect(failures).toEqual([]);
    const { rows } = await school.pool.query<{ n: number }>(
      'select count(*)::int as n from school_turn_book where answer is null',
    );
    expect(rows[0]!.n).toBe(0);
    // "hills" has rounding of its own and keeps it.
    for (const [book, decimals] of [
      ['fens', 4],
      ['hills', 2],
    ] as const)
      expect((await rulesOf(book)).rounding.decimals).toBe(decimals);
    expect((await seqs()) - first).toBe(3);
  });

  it('reads books for its trials as they are read everywhere', async () => {
    const viva = 'viva';
    const put = async (assessment: string, enrolment: string, ...changes: object[]): Promise<void> => {
      const { rows } = await school.pool.query<{ version: number }>(
        'select version from entry where assessment = $1 and enrolment = $2',
        [assessment, enrolment],
      );
      let version = rows[0]?.version ?? 0;
      for (const change of changes)
        expect((await school.put(assessment, enrolment, version++, change)).status).toBe(200);
    };
    await put(
      'test',
      school.adaId,
      { kind: 'received', at: '2026-11-02T08:00:00.125Z' },
      { kind: 'score', points: 12.5 },
      { kind: 'received', at: '2026-11-03T08:00:00Z' },
      { kind: 'received', at: '2026-11-04T08:00:00Z' },
      { kind: 'score', points: 40 },
      { kind: 'on-time', waived: true },
      { kind: 'allowances', count: 2 },
    );
    await put('test', school.benId, { kind: 'state', state: 'excused' });
    await put('test', school.cleoId, {
      kind: 'dates',
      dueAt: '2026-12-14T17:00:00Z',
      closesAt: '2026-12-20T17:00:00Z',
    });
    await put('reed', school.cleoId, { kind: 'set', points: 7.25 }, { kind: 'protect', on: true });
    await put(viva, school.benId, { kind: 'received', at: '2026-11-02T08:00:00Z' }, { kind: 'mark', label: 'Yes' });
    const { school: id } = (await school.pool.query<{ school: string }>('select school from book limit 1')).rows[0]!;
    const sorted = ({ entries, ...rest }: BookDocument) =>
      canonical({ ...rest, entries: entries.map((e) => canonical(e)).sort() });
    for (const book of ['fens', 'hills', 'new', 'old'])
      expect(sorted(await assembleDocument(school.pool, id, book)), book).toBe(
        sorted((await assemble(school.pool, id, book)).document),
      );
  });

  it('brings to every book what its trial has shown, whatever the rules', async () => {
    const percent = fc.integer({ min: 0, max: 400 }).map((n) => n / 4);
    const arbRules = fc
      .record({
        stands: fc.array(fc.constantFrom(...STANDS), { minLength: MATTERS.length, maxLength: MATTERS.length }),
        deduct: percent,
        afterDue: percent,
        a: fc.integer({ min: 41, max: 100 }),
        decimals: fc.nat(4),
        days: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { maxLength: 3 }),
        closed: fc.boolean(),
        late: fc.boolean(),
        scale: fc.boolean(),
      })
      .map(({ stands, deduct, afterDue, a, decimals, days, closed, late, scale }): SchoolRules => ({
        ...OPEN_SCHOOL,
        rules: {
          blank: { usual: { beforeDue: 'skip', afterDue: { percent: afterDue } } },
          late: { steady: { unit: 'day', deduct } },
          scales: {
            letters: {
              bands: [
                { label: 'A', from: a },
                { label: 'B', from: 40 },
                { label: 'F', from: 0 },
              ],
            },
          },
          marks: {
            words: [
              { label: 'Yes', percent: 100 },
              { label: 'Nearly', percent: afterDue },
            ],
          },
        },
        late: late ? 'steady' : null,
        scale: scale ? 'letters' : null,
        rounding: { decimals, mode: 'half-up' },
        calendar: { days, closures: closed ? [{ title: 'Fair', from: '2026-10-11', to: '2026-10-12' }] : [] },
        stands: Object.fromEntries(MATTERS.map((m, i) => [m, stands[i]!])) as SchoolRules['stands'],
      }));
    await fc.assert(
      fc.asyncProperty(arbRules, async (rules) => {
        const before = await Promise.all(['fens', 'hills'].map(standings));
        const trial = await tryIt(rules);
        const shown = await Promise.all(
          trial.books.map((b) =>
            school.office.must<TurnMovers>('GET', `/school-rules/turns/${trial.id}/books/${b.book}`),
          ),
        );
        const made = await make(rules);
        expect(made.books.map((b) => [b.state, b.departs])).toEqual(trial.books.map((b) => [b.state, b.departs]));
        const after = await Promise.all(['fens', 'hills'].map(standings));
        shown.forEach((movers, i) => {
          const moved = [...after[i]!].filter(([id, is]) => before[i]!.get(id) !== is);
          const text = (s: { percent: string | null; letter: string | null }): string =>
            canonical([s.percent === null ? null : Number(s.percent), s.letter]);
          expect(new Map(movers.map((m) => [m.enrolment, text(m.after)]))).toEqual(new Map(moved));
          expect(trial.books[i]!.up + trial.books[i]!.down).toBe(movers.length);
        });
      }),
      { numRuns: 25 },
    );
  });
});
