import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Curve } from '../book/document';
import {
  allowsTool,
  curved,
  curveByTool,
  edgesByShares,
  meanOf,
  sharesOf,
  spreadOf,
  toMean,
  toMeanAndSpread,
  toolOf,
  toRoot,
} from './class-tools';

const allCurved = (curve: Curve | null, marked: number[], points: number): number[] =>
  marked.map((m) => curved(curve, m, points));
const arbMarked = fc.array(
  fc.integer({ min: 0, max: 400 }).map((n) => n / 4),
  { minLength: 2, maxLength: 30 },
);

describe('the class moved to', () => {
  it('a mean: everybody gets as much', () => {
    expect(toMean([60, 73], 75)).toMatchObject({ kind: 'add', points: 8.5 });
    expect(toMean([], 75)).toBeNull();
    fc.assert(
      fc.property(arbMarked, fc.integer({ min: 0, max: 100 }), (marked, mean) => {
        expect(meanOf(allCurved(toMean(marked, mean), marked, 100))).toBeCloseTo(mean, 3);
      }),
    );
  });

  it('a mean and a spread: on a line that never falls below nothing', () => {
    const marked = [33, 48, 63];
    const spread = spreadOf(marked);
    const line = toMeanAndSpread(marked, 100, 60, spread)!;
    expect(line).toMatchObject({ kind: 'line', through: [[0, 12], [100, 112]] }); // prettier-ignore
    expect(allCurved(line, marked, 100)).toEqual([45, 60, 75]);
    expect(toMeanAndSpread([50, 50], 100, 60, 15)).toBeNull();
    fc.assert(
      fc.property(arbMarked, fc.integer({ min: 30, max: 70 }), fc.integer({ min: 1, max: 20 }), (all, mean, wide) => {
        const to = toMeanAndSpread(all, 100, mean, wide);
        if (to?.kind !== 'line') return;
        expect(to.through[0]![0]).toBeLessThan(to.through[1]![0]);
        expect(to.through.every(([, y]) => y >= 0)).toBe(true);
        const is = allCurved(to, all, 100);
        // Who would fall below nothing stays there, and pulls the mean up.
        if (to.through.every(([, y]) => y > 0)) {
          expect(meanOf(is)).toBeCloseTo(mean, 1);
          expect(spreadOf(is)).toBeCloseTo(wide, 1);
        }
      }),
    );
  });

  it('the square root of its marks', () => {
    const [at49, at50] = allCurved(toRoot(100), [49, 50], 100);
    expect([at49, at50]).toEqual([70, 70.7107]);
  });

  it('so many per cent at a letter, those at one figure on one side', () => {
    const ten = Array.from({ length: 10 }, (_, i) => 50 + 3 * i);
    expect(edgesByShares(ten, [10, 25])).toEqual([77, 68]);
    expect(edgesByShares([80, 80, 80, 60], [25])).toEqual([80]);
    expect(edgesByShares([80, 60], [0])).toEqual([80.0001]);
    expect(edgesByShares([], [10])).toEqual([100.0001]);
    expect(edgesByShares([80, 80, 80, 60], [25, 25, 25])).toEqual([80, 79.9999, 79.9998]);
    expect(edgesByShares([0, 0], [50, 50])).toEqual([0.0002, 0.0001]);
    fc.assert(
      fc.property(
        fc.array(
          fc.integer({ min: 0, max: 10_000 }).map((n) => n / 100),
          { maxLength: 40 },
        ),
        fc.array(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: 6 }),
        (percents, shares) => {
          const edges = edgesByShares(percents, shares);
          expect(edges.every((e, n) => e > 0 && (n === 0 || e < edges[n - 1]!))).toBe(true);
          // At most as many more as stand at the figure of the last of them.
          shares.reduce((sum, s, n) => {
            const wished = Math.round(((sum + s) * percents.length) / 100);
            const has = percents.filter((p) => p >= edges[n]!).length;
            const alike = percents.filter((p) => p === Math.min(...percents.filter((q) => q >= edges[n]!))).length;
            if (edges[n]! > 0.01) expect(has - alike).toBeLessThanOrEqual(wished);
            return sum + s;
          }, 0);
        },
      ),
    );
  });

  it('as is read back from what it wrote, and from nothing else', () => {
    for (const tool of [
      { tool: 'mean', mean: 75 },
      { tool: 'spread', mean: 60, spread: 15 },
      { tool: 'root' },
    ] as const)
      // prettier-ignore
      expect(toolOf(curveByTool(tool, [40, 60], 100))).toEqual(tool);
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 3 }), { maxLength: 4 }), (marked) => {
        for (const tool of [
          { tool: 'mean', mean: 2 },
          { tool: 'spread', mean: 2, spread: 1 },
          { tool: 'root' },
        ] as const)
          expect(curveByTool(tool, marked, 3) !== null).toBe(allowsTool(tool.tool, marked));
      }),
    );
    const infos = [
      undefined,
      null,
      'mean',
      { tool: 'mean' },
      { tool: 'mean', mean: '7' },
      { tool: 'mean', mean: 1e308 },
      [],
    ];
    for (const info of infos) expect(toolOf({ kind: 'add', points: 1, info })).toBeNull();
    const scale = (info: unknown) => ({ bands: [{ label: 'A', from: 80 }, { label: 'F', from: 0 }], info }); // prettier-ignore
    expect(sharesOf(scale({ tool: 'shares', shares: [10] }))).toEqual([10]);
    for (const info of [
      undefined,
      null,
      { tool: 'shares' },
      { tool: 'shares', shares: [1, 2] },
      { tool: 'shares', shares: ['a'] },
    ])
      expect(sharesOf(scale(info))).toBeNull();
  });
});
