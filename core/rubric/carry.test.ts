import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { carryMark, criterionChange } from './carry';
import { topOf } from './check-rubric';
import type { Criterion } from './document';

const criterion = (points: Record<string, number>, more: Partial<Criterion> = {}): Criterion => ({
  ...{ id: 'c', title: 'Drawing', stands: 'counts' },
  levels: Object.entries(points).map(([id, p]) => ({ id, points: p, words: '' })),
  ...more,
});
const OLD = criterion({ low: 2, mid: 4, high: 6 });

describe('a mark when its criterion changes', () => {
  it('stays on its level, whatever that is worth now', () => {
    const now = criterion({ low: 1, mid: 5, high: 10 });
    expect(carryMark(OLD, now, { points: 4 })).toEqual({ mark: { points: 5 }, gone: false });
    expect(carryMark(OLD, now, { leftOut: true })).toEqual({ mark: { leftOut: true }, gone: false });
  });
  it('between two levels stays at the same share of the way, from nothing below the first', () => {
    const now = criterion({ low: 1, mid: 5, high: 10 });
    expect(carryMark(OLD, now, { points: 3 }).mark).toEqual({ points: 3 });
    expect(carryMark(OLD, now, { points: 4.5 }).mark).toEqual({ points: 6.25 });
    expect(carryMark(OLD, now, { points: 1 }).mark).toEqual({ points: 0.5 });
    expect(carryMark(OLD, now, { points: 0 }).mark).toEqual({ points: 0 });
  });
  it('keeps its points where its level was taken out, as far as there are so many', () => {
    expect(carryMark(OLD, criterion({ low: 2, high: 6 }), { points: 4 })).toEqual({ mark: { points: 4 }, gone: true });
    expect(carryMark(OLD, criterion({ low: 2, mid: 4 }), { points: 5 })).toEqual({ mark: { points: 4 }, gone: true });
  });
  it('a level that comes between others moves nobody who stood on one', () => {
    const now = criterion({ low: 2, new: 3, mid: 4, high: 6 });
    for (const points of [2, 4, 6]) expect(carryMark(OLD, now, { points })).toEqual({ mark: { points }, gone: false });
  });
  it('stays what it is where nothing changed, keeps its order, and is never more than there is', () => {
    const levels = fc
      .uniqueArray(fc.integer({ min: 1, max: 400 }), { minLength: 2, maxLength: 6 })
      .map((all) => all.sort((a, b) => a - b).map((n, i) => ({ id: `l${i}`, points: n / 4, words: '' })));
    const point = fc.tuple(fc.nat(1000), fc.nat(1000));
    fc.assert(
      fc.property(levels, levels, point, (was, is, [a, b]) => {
        const [from, to] = [criterion({}, { levels: was }), criterion({}, { levels: is })];
        const at = (n: number): number => Math.round((topOf(from) * n * 10_000) / 1000) / 10_000;
        const become = (n: number, c = to): number => (carryMark(from, c, { points: at(n) }).mark as { points: number }).points; // prettier-ignore
        expect(become(a, from)).toBe(at(a));
        expect(become(a)).toBeLessThanOrEqual(topOf(to));
        // With every level still there, whoever had more has not less.
        if (is.length >= was.length && a <= b) expect(become(a)).toBeLessThanOrEqual(become(b) + 1e-9);
      }),
    );
  });
});

describe('what of a criterion changed', () => {
  it('is its points or its words', () => {
    expect(criterionChange(OLD, structuredClone(OLD))).toBeNull();
    expect(criterionChange(OLD, { ...OLD, title: 'Sketch' })).toBe('words');
    expect(criterionChange(OLD, { ...OLD, words: 'Of the profile' })).toBe('words');
    expect(criterionChange(OLD, { ...OLD, stands: 'bonus' })).toBe('points');
    expect(criterionChange(OLD, criterion({ low: 2, mid: 4, high: 7 }))).toBe('points');
    expect(criterionChange(OLD, undefined)).toBe('points');
    expect(criterionChange(undefined, undefined)).toBeNull();
  });
});
