import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { BookDocument, Hurdle, Scale } from '../book/document';
import { compileBook } from '../calculation/compiled/compile';
import { workOutStudent } from '../calculation/final';
import { compileHurdles, failedCount } from '../calculation/hurdles';
import { bandOf, bandOfPercent, compileScale } from '../calculation/letters';
import { compare, fraction, fromNumber, multiply, subtract, toNumber, type Fraction } from '../exact/fraction';
import { arbAnyBook, smallBook } from '../testing/books';
import { estimateStudent, makeEstimate, PASS } from './estimate';
import { figureText } from './figures';
import { standingAt, standingsOf } from './standings';
import { tries } from '../testing/tries';

/** |estimate − exact| as a multiple of 2^-53 of the exact figure, in fractions. */
function offBy(estimate: number, exact: Fraction): number {
  const e = fromDouble(estimate);
  const by = subtract(e, exact);
  const size = compare(by, fraction(0)) < 0 ? multiply(by, fraction(-1)) : by;
  if (size.n == 0) return 0;
  return toNumber(multiply(size, fraction(BigInt(exact.d) * 2n ** 53n, BigInt(exact.n))));
}

/** The exact value of a double, bit by bit. */
function fromDouble(x: number): Fraction {
  let scale = 1n;
  while (!Number.isInteger(x)) {
    x *= 2;
    scale *= 2n;
  }
  return fraction(BigInt(x), scale);
}

describe('the estimate', () => {
  it('of every group is off by no more than its bound', () => {
    let tried = 0;
    fc.assert(
      fc.property(arbAnyBook, (book) => {
        const compiled = compileBook(book);
        const e = makeEstimate(compiled);
        book.students.forEach((_, s) => {
          estimateStudent(compiled, e, s);
          if (e.isInconclusive) return;
          const { tree } = workOutStudent(compiled, s);
          compiled.groups.forEach((g, i) => {
            const exact = tree.outcomes[i]!.ratio;
            expect(Number.isNaN(e.ratio[i]!)).toBe(exact === null);
            if (exact === null || exact.n == 0) return;
            tried++;
            expect(offBy(e.ratio[i]!, exact)).toBeLessThanOrEqual(e.variant.flat.errorRatio[i]!);
            const { possible } = tree.outcomes[i]!;
            expect(offBy(e.possible[i]!, possible)).toBeLessThanOrEqual(e.variant.flat.errorPossible[i]!);
          });
        });
      }),
      { numRuns: tries(600) },
    );
    expect(tried).toBeGreaterThan(tries(1_000));
  });

  it('drops what fractions drop, wherever it is sure', () => {
    fc.assert(
      fc.property(arbAnyBook, (book) => {
        const compiled = compileBook(book);
        const e = makeEstimate(compiled);
        book.students.forEach((_, s) => {
          estimateStudent(compiled, e, s);
          if (e.isInconclusive) return;
          const { dropped, outcomes } = workOutStudent(compiled, s).tree;
          expect([...e.dropped].map((d) => d === 1)).toEqual(compiled.items.map((_, i) => dropped[i] === true));
          for (const g of outcomes)
            for (const c of [...g.droppedLowest, ...g.droppedHighest])
              if (c.node.type === 'group') expect(e.droppedGroups[c.node.index]).toBe(1);
        });
      }),
      { numRuns: tries(400) },
    );
  });

  it('goes over nothing twice where nothing is open: low and high are what is', () => {
    const book = smallBook({ closing: true, entries: [{ student: 's1', item: 'a', attempts: [{ score: 15 }] }] });
    const compiled = compileBook(book);
    const e = makeEstimate(compiled);
    estimateStudent(compiled, e, 0);
    expect([e.open, e.ratio[PASS.now]]).toEqual([false, 0.75]);
    expect(standingAt(standingsOf(compiled), 0)).toMatchObject({ percent: '75.0', low: '75.0', high: '75.0' });
  });
});

describe('a scale', () => {
  it('gives the band that a walk over all bands gives', () => {
    const arbScale = fc
      .uniqueArray(fc.integer({ min: 1, max: 1_100_000 }), { minLength: 0, maxLength: 12 })
      .map((froms): Scale => ({ bands: [...froms, 0].map((from, i) => ({ label: `b${i}`, from: from / 10_000 })) }));
    fc.assert(
      fc.property(arbScale, fc.integer({ min: 0, max: 1_200_000 }), (scale, at) => {
        const compiled = compileScale(scale);
        const figure = fromNumber(at / 10_000);
        const walked = scale.bands.filter((b) => b.from <= at / 10_000).sort((a, b) => b.from - a.from)[0]!.label;
        expect(compiled.labels[bandOfPercent(compiled, figure, figure)]).toBe(walked);
        expect(compiled.labels[bandOf(compiled, (b) => at >= compiled.from[b]!)]).toBe(walked);
      }),
    );
  });

  it('writes figures with their decimals', () => {
    expect([figureText(NaN, 1), figureText(0, 2), figureText(5, 2), figureText(12_345, 2), figureText(80, 0)]).toEqual([
      null,
      '0.00',
      '0.05',
      '123.45',
      '80',
    ]);
  });
});

describe('hurdles of one node', () => {
  it('take the least cap of those that fail, in any order', () => {
    const compiled = compileBook(smallBook());
    const arb = fc.array(
      fc.record({
        node: fc.constant('a'),
        atLeast: fc.integer({ min: 0, max: 60 }),
        capAt: fc.integer({ min: 0, max: 60 }),
      }),
      { minLength: 1, maxLength: 8 },
    );
    fc.assert(
      fc.property(arb, fc.integer({ min: 0, max: 60 }), (hurdles, reached) => {
        const [h] = compileHurdles(hurdles, compiled.nodes, null, 1).byNode;
        const failed = hurdles.filter((x) => reached < x.atLeast);
        const count = failedCount(h!, (k) => reached < h!.atLeast[k]!);
        expect(count).toBe(failed.length);
        if (count > 0) expect(h!.capAt[count - 1]).toBe(Math.min(...failed.map((x) => x.capAt)));
      }),
    );
  });

  it('apply whatever the order of hurdles on several nodes', () => {
    const hurdles: Hurdle[] = [
      { node: 'a', atLeast: 90, capAt: 60 },
      { node: 'all', atLeast: 90, capAt: 55 },
      { node: 'a', atLeast: 95, capAt: 70 },
    ];
    const book = (list: Hurdle[]): BookDocument =>
      smallBook({ hurdles: list, entries: [{ student: 's1', item: 'a', attempts: [{ score: 17 }] }] });
    for (const list of [hurdles, [...hurdles].reverse()])
      expect(workOutStudent(compileBook(book(list)), 0).final.rounded).toBe('55.0');
  });
});
