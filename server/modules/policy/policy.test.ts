import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { RulesPart } from '@core/book/change';
import { OPEN_SCHOOL, type SchoolRules } from '@core/policy/document';
import type { BookDeviations, SchoolDeviations, PolicyRollout, RolloutMovers } from '@contract/policy';
import { OfficeRules, says, words } from '../../testing/office-rules';
import { operation, type Person } from '../../testing/person';
import { RULES, testSchool, type TestSchool } from '../../testing/school';
import type { RulesState } from '@contract/rules';

let school: TestSchool;
let rules: OfficeRules;
beforeAll(async () => {
  school = await testSchool();
  rules = new OfficeRules(school);
  await rules.scores();
});
afterAll(() => school.close());

const putRules = async (who: Person, book: string, is: Partial<RulesPart>, reason: string, items?: object[]) => {
  const { rulesVersion } = await who.must<{ rulesVersion: number }>('GET', `/books/${book}`);
  const { rows } = await school.pool.query<{ rules: string }>(
    'select rules from rules_version where book = $1 and version = $2',
    [book, rulesVersion],
  );
  return who.send<RulesState & { detail?: string }>('PUT', `/books/${book}/rules`, {
    operation: operation(),
    version: rulesVersion,
    reason,
    rules: { ...(JSON.parse(rows[0]!.rules) as RulesPart), ...is },
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
    expect(await rules.now()).toEqual({ version: 0, rules: OPEN_SCHOOL, made: null });
    expect(await school.teacher.must('GET', '/books/fens/deviations')).toEqual([]);
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
    expect([bad.status, bad.body['errors']]).toEqual([400, [expect.objectContaining({ pointer: '/blank' })]]);
    expect((await school.office.send('PUT', '/school-rules', write({ reason: ' ' }))).status).toBe(400);
    expect((await school.office.send('PUT', '/school-rules', write({ version: 3 }))).status).toBe(409);
    const trial = { id: 'trial-of-it', version: 3, rules: OPEN_SCHOOL };
    expect((await school.office.send('POST', '/school-rules/rollouts', trial)).status).toBe(409);
    expect((await rules.now()).version).toBe(0);
  });

  it('change a book that goes by them and leave one that departs; the trial has said who moves', async () => {
    await rules.make(
      says(
        { letters: 'begins', late: 'begins' },
        { ...withLetters(80), late: 'steady', rules: { ...withLetters(80).rules, late: RULES.rules!.late! } },
      ),
    );
    expect(await school.teacher.must('GET', '/books/fens/deviations')).toEqual([]);
    const own = await putRules(school.stranger, 'hills', { rounding: { decimals: 2, mode: 'down' } }, '');
    expect(own.status).toBe(200);
    const refused = await putRules(school.stranger, 'hills', { scale: null }, ' ');
    expect([refused.status, refused.body.detail]).toEqual([400, expect.stringContaining('letters: say why')]);
    expect((await putRules(school.stranger, 'hills', { scale: null }, 'a pass is a pass')).status).toBe(200);
    const departs = await school.office.must<SchoolDeviations>('GET', '/school-rules/deviations');
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

    const harder = { ...(await rules.now()).rules, ...withLetters(44) };
    harder.rules = { ...(await rules.now()).rules.rules, ...withLetters(44).rules };
    const before = await rules.standings('fens');
    const trial = await rules.tryIt(harder);
    expect(trial.books.map((b) => [b.book, b.state, b.departs])).toEqual([
      ['fens', 'takes', []],
      ['hills', 'takes', ['letters']],
    ]);
    expect(await rules.standings('fens')).toEqual(before);
    const movers = await school.office.must<RolloutMovers>('GET', `/school-rules/rollouts/${trial.id}/books/fens`);
    expect(movers.map((m) => [m.name, m.before.letter, m.after.letter])).toEqual([['Ben Birch', 'F', 'A']]);
    const made = await rules.make(harder, 'A begins earlier');
    expect(made.books.map((b) => b.state)).toEqual(['takes', 'takes']);
    expect((await rules.rulesOf('fens')).rules!.scales!['letters']!.bands[0]).toEqual({ label: 'A', from: 44 });
    expect((await rules.rulesOf('hills')).scale).toBeNull();
    const { rows } = await school.pool.query<{ reason: string }>(
      `select r.reason from journal j join journal_reason r using (school, book, batch) where j.book = 'fens' and j.kind = 'rules'`,
    );
    expect(rows.map((r) => r.reason)).toEqual(['School rules: A begins earlier']);
    expect(await school.office.must('GET', '/school-rules/versions')).toMatchObject([
      { version: 2, reason: 'A begins earlier', by: 'U. Office' },
      { version: 1 },
    ]);
  });

  it('want a reason also where an assessment departs, or what is put back does; it stands beside the departure', async () => {
    const moss = async () =>
      (await school.teacher.must<{ id: string; version: number }[]>('GET', '/books/fens/assessments')).find(
        (a) => a.id === 'moss',
      )!;
    const change = async (more: object, reason: string) =>
      school.teacher.send('PATCH', '/books/fens/assessments/moss', {
        ...{ operation: operation(), version: (await moss()).version, more, reason, tell: null },
      });
    const refused = await change({ late: null }, '');
    expect([refused.status, refused.body['detail']]).toEqual([400, expect.stringContaining('for lateness: say why')]);
    expect((await change({ late: null }, 'it is done in the marsh')).status).toBe(200);
    const departs = () => school.teacher.must<BookDeviations>('GET', '/books/fens/deviations');
    expect(await departs()).toMatchObject([
      {
        departure: { matter: 'late', place: { kind: 'item', id: 'moss' }, is: null },
        title: 'Moss',
        since: { by: 'S. teacher', reason: 'it is done in the marsh' },
      },
    ]);
    // Another change of it is not what brought the departure.
    expect((await change({ late: null, weight: 2 }, 'twice the work')).status).toBe(200);
    expect((await departs())[0]!.since!.reason).toBe('it is done in the marsh');
    expect((await change({}, '')).status).toBe(200);
    expect(await departs()).toEqual([]);
    const { rows } = await school.pool.query<{ batch: string }>(
      `select batch from journal where book = 'fens' and assessment = 'moss' and kind = 'assessment' order by seq desc limit 1`,
    );
    const back = (reason: string) =>
      school.teacher.send('POST', `/books/fens/journal/${rows[0]!.batch}/put-back`, {
        ...{ operation: operation(), leaveLater: false, reason },
      });
    expect((await back('')).body['detail']).toContain('for lateness: say why');
    expect((await back('it is done in the marsh after all')).status).toBe(200);
    expect((await departs())[0]!.since!.reason).toBe('it is done in the marsh after all');
    expect((await change({}, '')).status).toBe(200);
  });

  it('that are fixed are taken on by every book, and no change of a book leads out of them', async () => {
    const now = await rules.now();
    await rules.make(
      { ...now.rules, stands: { ...now.rules.stands, letters: 'fixed', late: 'fixed' } },
      'one school, one scale',
    );
    expect((await rules.rulesOf('hills')).scale).toBe('letters');
    const departing = await putRules(school.teacher, 'fens', { scale: null }, 'I want to');
    expect([departing.status, departing.body.detail]).toEqual([400, expect.stringContaining('has fixed letters')]);
    const mossNow = async () =>
      (await school.teacher.must<{ id: string; version: number }[]>('GET', '/books/fens/assessments')).find(
        (a) => a.id === 'moss',
      )!;
    const moss = await school.teacher.send('PATCH', '/books/fens/assessments/moss', {
      ...(await wholeWrite('moss')),
      more: { late: null },
    });
    expect([moss.status, moss.body['detail']]).toEqual([400, expect.stringContaining('has fixed lateness')]);
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
    expect([back.status, back.body['detail']]).toEqual([400, expect.stringContaining('has fixed letters')]);
    expect((await rules.rulesOf('hills')).scale).toBe('letters');
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
    await rules.book('new', 'autumn', first);
    expect(await rules.rulesOf('new')).toMatchObject({ scale: 'letters', late: 'steady' });
    expect(await school.office.must('GET', '/books/new/deviations')).toEqual([]);
  });

  it('that a book cannot take on leave it as it is, and say so', async () => {
    await rules.make(says({ marks: 'fixed' }, { rules: words(['Yes', 'Nearly', 'No']) }));
    await rules.viva();
    await school.put('viva', school.adaId, 0, { kind: 'mark', label: 'Nearly' });
    const fewer = says({ marks: 'fixed' }, { rules: words(['Yes', 'No']) });
    const trial = await rules.tryIt(fewer);
    const of = (rollout: PolicyRollout) => rollout.books.find((b) => b.book === 'fens')!;
    expect(of(trial)).toMatchObject({ state: 'refused', says: expect.stringContaining('“Nearly” on Viva') });
    const made = await rules.make(fewer);
    expect(of(made)).toMatchObject({ state: 'refused', says: of(trial).says });
    expect(made.books.find((b) => b.book === 'hills')!.state).toBe('takes');
    expect((await rules.rulesOf('fens')).rules!.marks!['words']).toHaveLength(3);
    expect(await school.office.must<BookDeviations>('GET', '/books/fens/deviations')).toMatchObject([
      { departure: { matter: 'marks', place: { kind: 'rule', name: 'words' } }, title: 'words' },
    ]);
    await rules.make(says({ marks: 'fixed' }, { rules: words(['Yes', 'Nearly', 'No']) }));
  });

  it('do not reach a book that is put away, nor one whose term has ended', async () => {
    await school.office.must('POST', '/terms', { id: 'past', title: 'Past', starts: '2026-01-01', ends: '2026-06-01' });
    await rules.book('old', 'past', RULES);
    await school.teacher.must('PATCH', '/books/new', { operation: operation(), archived: true });
    const trial = await rules.tryIt(says({ rounding: 'fixed' }, { rounding: { decimals: 3, mode: 'down' } }));
    expect(trial.books.map((b) => b.book)).toEqual(['fens', 'hills']);
  });

  it('stand as they were made: the database refuses to alter a version', async () => {
    for (const sql of ['update school_rules set reason = $1', 'delete from school_rules where reason <> $1'])
      await expect(school.pool.query(sql, ['other'])).rejects.toThrow(/never altered/);
  });
});
