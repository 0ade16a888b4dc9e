import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { rulesOf } from '@core/book/assemble';
import type { RulesPart } from '@core/book/change';
import type { BookDocument, Combine, Curve } from '@core/book/document';
import { computeBook } from '@core/calculation/result';
import { compareBooks } from '@core/proposal/compare';
import { proposedBook, type ItemSettings, type Proposal } from '@core/proposal/proposal';
import type { AssessmentList } from '@contract/assessments';
import type { Sheet } from '@contract/books';
import { operation } from '../../testing/person';
import { testSchool, type TestSchool } from '../../testing/school';
import type { RulesState } from '@contract/rules';

let school: TestSchool;
beforeAll(async () => {
  school = await testSchool();
  await school.put('moss', school.adaId, 0, { kind: 'score', points: 16 });
  await school.put('moss', school.benId, 0, { kind: 'score', points: 11 });
  await school.put('reed', school.adaId, 0, { kind: 'score', points: 9 });
  await school.put('reed', school.benId, 0, { kind: 'score', points: 4.5 });
  await school.put('reed', school.benId, 1, { kind: 'late', units: 2 });
  await school.put('test', school.cleoId, 0, { kind: 'score', points: 31 });
});
afterAll(() => school.close());

const documentNow = async (): Promise<BookDocument> =>
  (await school.teacher.must<Sheet>('GET', '/books/fens/sheet')).document;
const versions = async () => {
  const list = await school.teacher.must<AssessmentList>('GET', '/books/fens/assessments');
  return new Map(list.map((a) => [a.id, a.version]));
};
let version = 1;
let sent: object = {};
/** Once more what {@link make} sent last: its answer was lost. */
const send = () => school.teacher.send<RulesState & { detail?: string }>('PUT', '/books/fens/rules', sent);
async function make(wish: Proposal, more: object = {}) {
  const at = await versions();
  const items = Object.entries(wish.items).map(([assessment, settings]) => ({
    assessment,
    version: at.get(assessment) ?? 1,
    more: settings,
  }));
  sent = { operation: operation(), version, reason: 'a trial', rules: wish.rules, items, ...more };
  const answer = await send();
  if (answer.status === 200) version = answer.body.version;
  return answer;
}
const lines = async (): Promise<number> =>
  (await school.pool.query<{ n: number }>(`select count(*)::int as n from journal where book = 'fens'`)).rows[0]!.n;

/** Wishes for the test school's book: rules and settings of assessments that go together or not. */
const arbWish = (now: RulesPart): fc.Arbitrary<Proposal> => {
  const weight = fc.integer({ min: 0, max: 400 }).map((n) => n / 4);
  const combine = fc.constantFrom<Combine>('points', 'weights', 'equal');
  const curve = fc.constantFrom<Curve | null>(
    null,
    { kind: 'add', points: 1.5 },
    { kind: 'top', at: 15 },
    { kind: 'line', through: [[0, 2], [10, 9], [20, 20]] }, // prettier-ignore
  );
  const settings = fc.record(
    { weight, curve, extraCredit: fc.boolean(), counts: fc.boolean(), alwaysKept: fc.boolean() },
    { requiredKeys: [] },
  ) as fc.Arbitrary<ItemSettings>;
  return fc
    .record({
      weights: fc.tuple(weight, weight),
      combines: fc.tuple(combine, combine),
      lowest: fc.integer({ min: 0, max: 2 }),
      deduct: fc.integer({ min: 0, max: 100 }),
      afterDue: fc.constantFrom<'skip' | { percent: number }>('skip', { percent: 0 }, { percent: 35 }),
      late: fc.constantFrom<string | null>('steady', null),
      mode: fc.constantFrom<'half-up' | 'half-even' | 'down'>('half-up', 'half-even', 'down'),
      decimals: fc.integer({ min: 0, max: 3 }),
      from: fc.integer({ min: 51, max: 95 }),
      items: fc.dictionary(fc.constantFrom('moss', 'reed', 'test'), settings, { noNullPrototype: true }),
    })
    .map((w) => ({
      items: w.items,
      rules: {
        ...now,
        late: w.late,
        rounding: { decimals: w.decimals, mode: w.mode },
        rules: {
          late: { steady: { unit: 'day', deduct: w.deduct, max: 60 } },
          blank: { usual: { beforeDue: 'skip', afterDue: w.afterDue } },
          scales: { letters: { bands: [{ label: 'A', from: w.from }, { label: 'F', from: 0 }] } }, // prettier-ignore
        },
        tree: {
          ...now.tree,
          children: now.tree.children.map((c, i) => ({
            ...c,
            weight: w.weights[i]!,
            combine: w.combines[i]!,
            ...(w.lowest > 0 ? { drop: { lowest: w.lowest } } : {}),
          })) as typeof now.tree.children,
        },
      },
    }));
};

describe('rules that are made', () => {
  it('bring exactly what their trial showed, whatever is changed together', async () => {
    const now = rulesOf(await documentNow());
    let taken = 0;
    await fc.assert(
      fc.asyncProperty(arbWish(now), async (wish) => {
        const before = await documentNow();
        const tried = proposedBook(before, wish);
        const answer = await make(wish);
        if (answer.status !== 200) {
          expect(answer.status).toBe(400);
          expect(await documentNow()).toEqual(before);
          return;
        }
        taken++;
        const trial = compareBooks(before, tried);
        const made = computeBook(await documentNow()).students;
        const was = computeBook(before).students;
        for (const [i, s] of made.entries()) {
          const mover = trial.movers.find((m) => m.student === s.id);
          const shown = mover ? mover.after : { percent: was[i]!.percent, letter: was[i]!.letter };
          // A figure that only gets other decimals is no move.
          expect([shown.percent === null ? null : Number(shown.percent), shown.letter]).toEqual([
            s.percent === null ? null : Number(s.percent),
            s.letter,
          ]);
        }
      }),
      { numRuns: 25 },
    );
    expect(taken).toBeGreaterThan(10);
  });

  it('are one with the settings made with them: in the journal, put back, and once however often they are sent', async () => {
    const document = await documentNow();
    const rules = { ...rulesOf(document), rounding: { decimals: 4, mode: 'down' as const } };
    const items = { moss: { weight: 7 }, test: { attempts: { use: 'latest' as const } } };
    const before = await lines();
    const first = await make({ rules, items });
    expect(first.status).toBe(200);
    const after = await documentNow();
    expect(rulesOf(after).rounding.decimals).toBe(4);
    expect((await lines()) - before).toBe(3);
    const again = await send();
    // Of the heads, the date may be another by now.
    expect([again.status, again.body]).toEqual([first.status, first.body]);
    expect((await lines()) - before).toBe(3);
    const { rows } = await school.pool.query<{ batch: string }>(
      `select batch from journal where book = 'fens' order by seq desc limit 1`,
    );
    await school.teacher.must('POST', `/books/fens/journal/${rows[0]!.batch}/put-back`, {
      operation: operation(),
      leaveLater: false,
      reason: '',
    });
    expect(await documentNow()).toEqual(document);
    version = (await school.pool.query<{ v: number }>(`select rules_version as v from book where id = 'fens'`)).rows[0]!
      .v;
  });

  it('need no new version where only assessments are set otherwise, and nothing at all where nothing is', async () => {
    const rules = rulesOf(await documentNow());
    const before = await lines();
    const was = version;
    expect((await make({ rules, items: { reed: { weight: 3 } } })).body.version).toBe(was);
    expect((await lines()) - before).toBe(1);
    expect((await make({ rules, items: {} })).body.version).toBe(was);
    expect((await lines()) - before).toBe(1);
  });

  it('may set a hurdle over an assessment, which then cannot be deleted, and which no other book takes along', async () => {
    const now = rulesOf(await documentNow());
    const bare = { operation: operation(), id: 'safety', title: 'Safety', category: 'work', points: 1, due: null };
    await school.teacher.must('POST', '/books/fens/assessments', { ...bare, closes: null, takesWork: false, more: {} });
    const hurdles = [
      { node: 'safety', atLeast: 100, capAt: 44 },
      { node: 'tests', atLeast: 20, capAt: 19 },
    ];
    expect((await make({ rules: { ...now, hurdles }, items: {} })).status).toBe(200);
    const gone = { operation: operation(), version: 1 };
    const refused = await school.teacher.send<{ detail: string }>('DELETE', '/books/fens/assessments/safety', gone);
    expect([refused.status, refused.body.detail]).toEqual([
      400,
      expect.stringContaining('There is a hurdle over Safety'),
    ]);
    await school.teacher.must('POST', '/books', {
      ...{ id: 'bogs', term: 'autumn', title: 'Bogs', sections: [], staff: [] },
      rules: { from: 'fens' },
    });
    const bogs = (await school.teacher.must<Sheet>('GET', '/books/bogs/sheet')).document;
    expect(bogs.hurdles).toEqual([hurdles[1]]);
    expect((await make({ rules: now, items: {} })).status).toBe(200);
    await school.teacher.must('DELETE', '/books/fens/assessments/safety', { ...gone, operation: operation() });
  });

  it('are refused, all of them, where somebody was first, or one of them cannot be', async () => {
    const document = await documentNow();
    const rules = { ...rulesOf(document), rounding: { decimals: 0, mode: 'down' as const } };
    const item = (more: object, at = 1) => ({ items: [{ assessment: 'moss', version: at, more }] });
    const { moss } = Object.fromEntries(await versions());
    for (const [more, status] of [
      [{ version: version - 1 }, 409],
      [item({ weight: 2 }, 0), 409],
      [item({ due: '2026-10-10T16:00:00Z' }, moss), 400],
      [item({ weight: -1 }, moss), 400],
      [item({ late: 'nowhere' }, moss), 400],
      [{ items: [{ assessment: 'gone', version: 1, more: {} }] }, 404],
    ] as const)
      expect((await make({ rules, items: {} }, more)).status).toBe(status);
    expect(await documentNow()).toEqual(document);
  });
});
