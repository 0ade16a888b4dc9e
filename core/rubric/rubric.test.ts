import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { toText } from '../exact/fraction';
import { checkRubric, markProblem, topOf } from './check-rubric';
import type { Criterion, Rubric, RubricMarks } from './document';
import { levelReached, partPoints, stepFrom } from './levels';
import { differsFrom, rubricMaximum, rubricScore } from './rubric-score';

const levels = (...points: number[]) => points.map((p, i) => ({ id: `l${i + 1}`, points: p, words: '' }));
const criterion = (id: string, points: number[], more: Partial<Criterion> = {}): Criterion => ({
  ...{ id, title: id, stands: 'counts', levels: levels(...points) },
  ...more,
});
const given = (marks: Record<string, number | 'out'>): RubricMarks =>
  Object.fromEntries(Object.entries(marks).map(([id, m]) => [id, m === 'out' ? { leftOut: true } : { points: m }]));

const PIT: Rubric = {
  by: 'points',
  criteria: [
    criterion('drawing', [1, 3, 5, 6]),
    criterion('measures', [2, 4, 6]),
    criterion('reading', [2, 4, 6, 8]),
    criterion('sketch', [1, 2], { stands: 'bonus' }),
    criterion('tidy', [0, 1], { stands: 'shown' }),
  ],
};

describe('a rubric by points', () => {
  it('makes the sum of what counts, bonus on top, and nothing of what is only shown', () => {
    const marks = { drawing: 5, measures: 4, reading: 8, sketch: 2, tidy: 1 };
    expect(rubricScore(PIT, given(marks), 20)).toMatchObject({ points: 19, open: [] });
    expect(toText(rubricMaximum(PIT))).toBe('20');
    expect([differsFrom(PIT, 20), differsFrom(PIT, 50)]).toEqual([false, true]);
  });

  it('is unfinished while something is not assessed, which counts as 0 until then', () => {
    expect(rubricScore(PIT, given({ drawing: 5 }), 20)).toMatchObject({
      points: 5,
      open: ['measures', 'reading', 'sketch', 'tidy'],
    });
  });

  it('leaves a criterion out of both sums', () => {
    // 9 of 12 of what is left, of the whole 20.
    const marks = given({ drawing: 5, measures: 4, reading: 'out', sketch: 'out', tidy: 0 });
    expect(rubricScore(PIT, marks, 20)).toMatchObject({ points: 15, open: [] });
    const all = given({ drawing: 'out', measures: 'out', reading: 'out', sketch: 2, tidy: 1 });
    expect(rubricScore(PIT, all, 20)).toMatchObject({ points: null, exact: null });
  });

  it('is brought to the points of the assessment where it says so, rounded once', () => {
    const marks = given({ drawing: 1, measures: 0, reading: 0, sketch: 0, tidy: 0 });
    expect(rubricScore({ ...PIT, scaled: true }, marks, 7).points).toBe(0.35);
    const third: Rubric = { by: 'points', scaled: true, criteria: [criterion('a', [1, 3])] };
    expect(rubricScore(third, given({ a: 1 }), 10).points).toBe(3.3333);
    expect(toText(rubricScore(third, given({ a: 1 }), 10).exact!)).toBe('10/3');
  });
});

describe('a rubric by weights', () => {
  const BY_WEIGHTS: Rubric = {
    by: 'weights',
    criteria: [
      criterion('a', [1, 2, 3, 4], { weight: 60 }),
      criterion('b', [1, 2, 3], { weight: 40 }),
      criterion('c', [1], { weight: 10, stands: 'bonus' }),
    ],
  };
  it('makes Σ weight × share ÷ Σ weight × points, bonus above that', () => {
    expect(rubricScore(BY_WEIGHTS, given({ a: 3, b: 2, c: 0 }), 20).exact).toEqual(
      rubricScore(BY_WEIGHTS, given({ a: 3, b: 2 }), 20).exact,
    );
    // (60 × 3/4 + 40 × 2/3) / 100 × 20, and 10/100 × 20 above it.
    expect(toText(rubricScore(BY_WEIGHTS, given({ a: 3, b: 2, c: 0 }), 20).exact!)).toBe('43/3');
    expect(toText(rubricScore(BY_WEIGHTS, given({ a: 3, b: 2, c: 1 }), 20).exact!)).toBe('49/3');
  });
});

describe('part points', () => {
  it('are half of each gap, or the steps that the rubric names, from 0 on', () => {
    expect(partPoints(criterion('a', [2, 4, 7]))).toEqual([0, 1, 2, 3, 4, 5.5, 7]);
    expect(partPoints(criterion('a', [0, 1], { step: 0.3 }))).toEqual([0, 0.3, 0.6, 0.9, 1]);
    expect(partPoints(criterion('a', [0, 0.0001]))).toEqual([0, 0.0001]);
  });
  it('are stepped through by arrows, and stay at the ends', () => {
    const c = criterion('a', [2, 4]);
    expect([stepFrom(c, null, 1), stepFrom(c, null, -1)]).toEqual([0, 4]);
    expect([stepFrom(c, 2, 1), stepFrom(c, 2.5, 1), stepFrom(c, 2.5, -1)]).toEqual([3, 3, 2]);
    expect([stepFrom(c, 4, 1), stepFrom(c, 0, -1)]).toEqual([4, 0]);
  });
  it('say which level they reach', () => {
    const c = criterion('a', [2, 4, 8]);
    expect([1, 2, 3, 8].map((p) => levelReached(c, p))).toEqual([
      { level: 0, past: false },
      { level: 1, past: false },
      { level: 1, past: true },
      { level: 3, past: false },
    ]);
  });
});

describe('what is wrong with a rubric', () => {
  const wrong = (rubric: Partial<Rubric>) =>
    checkRubric({ by: 'points', criteria: [], ...rubric }).map((p) => p.pointer);
  it('is said, each with its place', () => {
    expect(checkRubric(PIT)).toEqual([]);
    expect(wrong({})).toEqual(['/criteria']);
    expect(wrong({ criteria: [criterion('a', [1]), criterion('a', [1])] })).toEqual(['/criteria/1/id']);
    expect(wrong({ criteria: [criterion('a', [3, 3])] })).toEqual(['/criteria/0/levels/1/points']);
    expect(wrong({ criteria: [criterion('a', [-1])] })).toEqual(['/criteria/0/levels/0/points']);
    expect(wrong({ criteria: [criterion('a', [0.00001])] })).toEqual(['/criteria/0/levels/0/points']);
    expect(wrong({ criteria: [criterion('a', [])] })).toContain('/criteria/0/levels');
    expect(wrong({ criteria: [criterion('a', [1], { stands: 'bonus' })] })).toEqual(['/criteria']);
    expect(wrong({ criteria: [criterion('a', [1], { step: 0 })] })).toEqual(['/criteria/0/step']);
    expect(wrong({ criteria: [criterion('a', [100], { step: 0.01 })] })).toEqual(['/criteria/0/step']);
    expect(wrong({ by: 'weights', criteria: [criterion('a', [1])] })).toContain('/criteria/0/weight');
    expect(wrong({ by: 'weights', criteria: [criterion('a', [1], { weight: 0 })] })).toEqual(['/criteria']);
    expect(wrong({ by: 'weights', criteria: [criterion('a', [0], { weight: 1 })] })).toEqual(['/criteria/0/levels']);
    expect(wrong({ criteria: [criterion('a', [1, 2, 3, 4, 5, 6, 7, 8, 9, 10])] })).toEqual(['/criteria/0/levels']);
  });
  it('is said of a mark too', () => {
    expect(markProblem(criterion('a', [2, 4]), { points: 4 })).toBe('');
    expect(markProblem(criterion('a', [2, 4]), { leftOut: true })).toBe('');
    expect(markProblem(criterion('a', [2, 4]), { points: 4.5 })).toContain('4 at most');
    expect(markProblem(criterion('a', [2, 4]), { points: Number.NaN })).not.toBe('');
  });
});

/** Amounts with at most four decimals, from ten-thousandths. */
const amount = (most: number) => fc.integer({ min: 1, max: most }).map((n) => n / 10_000);
const rubrics: fc.Arbitrary<Rubric> = fc
  .record({
    by: fc.constantFrom('points' as const, 'weights' as const),
    scaled: fc.boolean(),
    criteria: fc.array(
      fc.record({
        stands: fc.constantFrom('counts' as const, 'counts' as const, 'bonus' as const, 'shown' as const),
        levels: fc.uniqueArray(amount(200_000), { minLength: 1, maxLength: 6 }),
        weight: amount(1_000_000),
      }),
      { minLength: 1, maxLength: 8 },
    ),
  })
  .map(({ by, scaled, criteria }) => ({
    ...{ by, scaled },
    criteria: [
      criterion('first', [0.5, 3], { weight: 1 }),
      ...criteria.map((c, i) =>
        criterion(
          `c${i}`,
          [...c.levels].sort((a, b) => a - b),
          { stands: c.stands, weight: c.weight },
        ),
      ),
    ],
  }));
/** A rubric with marks: some open, some left out, the rest somewhere up to the highest level. */
const marked = rubrics.chain((rubric) =>
  fc.record({
    rubric: fc.constant(rubric),
    itemPoints: fc.integer({ min: 1, max: 200 }),
    marks: fc
      .tuple(
        ...rubric.criteria.map((c) =>
          fc.tuple(fc.integer({ min: 0, max: 9 }), fc.integer({ min: 0, max: Math.round(topOf(c) * 10_000) })),
        ),
      ) // prettier-ignore
      .map((all): RubricMarks =>
        Object.fromEntries(
          rubric.criteria.flatMap((c, i) => {
            const [how, n] = all[i]!;
            return how === 0 ? [] : [[c.id, how === 1 ? { leftOut: true as const } : { points: n / 10_000 }]];
          }),
        ),
      ),
  }),
);

/** The same in whole numbers of ten-thousandths, written apart from the code it checks. */
function reference(rubric: Rubric, marks: RubricMarks, itemPoints: number): [bigint, bigint] | null {
  const whole = (n: number): bigint => BigInt(Math.round(n * 10_000));
  const sum = (parts: [bigint, bigint][]): [bigint, bigint] =>
    parts.reduce<[bigint, bigint]>(([n, d], [n2, d2]) => [n * d2 + n2 * d, d * d2], [0n, 1n]);
  const out = (c: Criterion): boolean => 'leftOut' in (marks[c.id] ?? {});
  const points = (c: Criterion): number => (marks[c.id] as { points?: number } | undefined)?.points ?? 0;
  const counting = rubric.criteria.filter((c) => c.stands === 'counts');
  const taken = counting.filter((c) => !out(c));
  const bonus = rubric.criteria.filter((c) => c.stands === 'bonus' && !out(c));
  if (taken.length === 0) return null;
  const worth = (c: Criterion): [bigint, bigint] => [whole(rubric.by === 'weights' ? c.weight! : topOf(c)), 10_000n];
  const earned = (c: Criterion): [bigint, bigint] =>
    rubric.by === 'weights' ? [whole(c.weight!) * whole(points(c)), 10_000n * whole(topOf(c))] : [whole(points(c)), 10_000n]; // prettier-ignore
  const all = sum(counting.map(worth));
  const scale: [bigint, bigint] = rubric.by === 'weights' || rubric.scaled ? [BigInt(itemPoints), 1n] : all;
  const [e, p, b] = [sum(taken.map(earned)), sum(taken.map(worth)), sum(bonus.map(earned))];
  return sum([
    [e[0] * p[1] * scale[0], e[1] * p[0] * scale[1]],
    [b[0] * all[1] * scale[0], b[1] * all[0] * scale[1]],
  ]);
}

describe('the arithmetic of any rubric', () => {
  it('is that of a reference in whole numbers, to the last digit', () => {
    fc.assert(
      fc.property(marked, ({ rubric, marks, itemPoints }) => {
        expect(checkRubric(rubric)).toEqual([]);
        const { exact, points } = rubricScore(rubric, marks, itemPoints);
        const expected = reference(rubric, marks, itemPoints);
        if (expected === null) {
          expect([exact, points]).toEqual([null, null]);
          return;
        }
        const [n, d] = expected;
        expect(BigInt(exact!.n) * d).toBe(n * BigInt(exact!.d));
        // Half-up to ten-thousandths.
        expect(BigInt(Math.round(points! * 10_000))).toBe((n * 20_000n + d) / (2n * d));
      }),
      { numRuns: 400 },
    );
  });

  it('does not hang on the order of the criteria, and rises with what one is given', () => {
    fc.assert(
      fc.property(marked, fc.nat(), ({ rubric, marks, itemPoints }, pick) => {
        const score = rubricScore(rubric, marks, itemPoints);
        const turned = { ...rubric, criteria: [...rubric.criteria].reverse() };
        expect(rubricScore(turned, marks, itemPoints).exact).toEqual(score.exact);
        const c = rubric.criteria[pick % rubric.criteria.length]!;
        const mark = marks[c.id];
        if (!mark || 'leftOut' in mark || score.points === null) return;
        const more = rubricScore(rubric, { ...marks, [c.id]: { points: topOf(c) } }, itemPoints);
        expect(more.points).toBeGreaterThanOrEqual(score.points);
      }),
      { numRuns: 200 },
    );
  });

  it('gives all the points for the highest levels, and of a criterion left out what the rest alone would', () => {
    fc.assert(
      fc.property(rubrics, fc.integer({ min: 1, max: 200 }), (rubric, itemPoints) => {
        const counting = rubric.criteria.filter((c) => c.stands !== 'bonus');
        const best = Object.fromEntries(counting.map((c) => [c.id, { points: topOf(c) }]));
        const scales = rubric.by === 'weights' || rubric.scaled;
        const { exact } = rubricScore(rubric, best, itemPoints);
        expect(toText(exact!)).toBe(scales ? String(itemPoints) : toText(rubricMaximum(rubric)));
        const [first, ...rest] = counting;
        if (!scales || !rest.some((c) => c.stands === 'counts')) return;
        const half = Object.fromEntries(rest.map((c) => [c.id, { points: c.levels[0]!.points }]));
        const without = { ...rubric, criteria: rubric.criteria.filter((c) => c.id !== first!.id && c.stands !== 'bonus') }; // prettier-ignore
        const out = { ...rubric, criteria: counting };
        expect(rubricScore(out, { ...half, [first!.id]: { leftOut: true } }, itemPoints).exact).toEqual(
          rubricScore(without, half, itemPoints).exact,
        );
      }),
      { numRuns: 200 },
    );
  });
});
