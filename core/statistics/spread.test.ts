import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { alike, quantile, spreadOf } from './spread';

const values = fc.array(fc.double({ min: -1e6, max: 1e6, noNaN: true }), { minLength: 1, maxLength: 60 });

describe('the spread of values', () => {
  it('is as worked out by hand', () => {
    expect(spreadOf([12, 20, 16, NaN, 8])).toEqual({
      count: 4,
      mean: 14,
      median: 14,
      lowerQuartile: 11,
      upperQuartile: 17,
      deviation: Math.sqrt(20),
      least: 8,
      most: 20,
    });
    expect([spreadOf([]), spreadOf([NaN])]).toEqual([null, null]);
    expect(spreadOf([7])).toMatchObject({ mean: 7, median: 7, lowerQuartile: 7, deviation: 0 });
  });

  it('stands in order, whatever the values and their order', () => {
    fc.assert(
      fc.property(values, (all) => {
        const s = spreadOf(all)!;
        const order = [s.least, s.lowerQuartile, s.median, s.upperQuartile, s.most];
        expect(order).toEqual([...order].sort((a, b) => a - b));
        expect(s.mean).toBeGreaterThanOrEqual(s.least - 1e-6);
        expect(s.mean).toBeLessThanOrEqual(s.most + 1e-6);
        expect(spreadOf([...all].reverse())!.median).toBe(s.median);
      }),
    );
  });

  it('moves and stretches with its values', () => {
    fc.assert(
      fc.property(values, fc.integer({ min: -50, max: 50 }), (all, by) => {
        const [a, b] = [spreadOf(all)!, spreadOf(all.map((v) => v + by))!];
        expect(b.median).toBeCloseTo(a.median + by, 5);
        expect(b.deviation).toBeCloseTo(a.deviation, 4);
      }),
    );
    expect(quantile([1, 2, 3, 4, 5], 0.25)).toBe(2);
  });
});

describe('how alike two columns are', () => {
  it('is 1 on a rising line, −1 on a falling one, and not to be said of too little', () => {
    expect(
      alike([
        [1, 10],
        [2, 12],
        [3, 14],
      ]),
    ).toEqual({ r: 1, slope: 2, base: 8 });
    expect(
      alike([
        [1, 3],
        [2, 2],
        [3, 1],
      ])?.r,
    ).toBe(-1);
    expect(
      alike([
        [1, 1],
        [2, 2],
      ]),
    ).toBe(null);
    expect(
      alike([
        [1, 1],
        [1, 2],
        [1, 3],
      ]),
    ).toBe(null);
  });

  it('never leaves −1 to 1', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0, max: 100, noNaN: true }), fc.double({ min: 0, max: 100, noNaN: true })), {
          maxLength: 40,
        }),
        (pairs) => {
          const a = alike(pairs);
          if (a) expect(Math.abs(a.r)).toBeLessThanOrEqual(1);
        },
      ),
    );
  });
});
