import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { addPoint, linePath, penWidth, strokeLines } from './stroke';
import type { StrokePoint } from './work-mark';

const fraction = fc.double({ min: 0, max: 1, noNaN: true });
const stroke = fc.array(fc.tuple(fraction, fraction, fraction) as fc.Arbitrary<StrokePoint>, { minLength: 1, maxLength: 40 }); // prettier-ignore

describe('a stroke', () => {
  it('is lines that join each other, from its first point to its last, never wider than its pressure', () => {
    fc.assert(
      fc.property(stroke, (points) => {
        const lines = strokeLines(points);
        expect(lines[0]!.from).toEqual(points[0]!.slice(0, 2));
        expect(lines.at(-1)!.curves.at(-1)!.slice(2)).toEqual(points.at(-1)!.slice(0, 2));
        for (const [i, line] of lines.entries()) {
          if (i > 0) expect(line.from).toEqual(lines[i - 1]!.curves.at(-1)!.slice(2));
          expect(line.width).toBeGreaterThanOrEqual(penWidth(0));
          expect(line.width).toBeLessThanOrEqual(penWidth(1));
          expect(linePath(line, 1000)).toMatch(/^M[\d.]+ [\d.]+(Q[\d.]+ [\d.]+ [\d.]+ [\d.]+)+$/);
        }
        expect(lines.flatMap((l) => l.curves)).toHaveLength(points.length);
      }),
    );
  });

  it('is wider the harder it is pressed, and leaves out points that lie upon each other', () => {
    expect(penWidth(0.9)).toBeGreaterThan(penWidth(0.2));
    const points: StrokePoint[] = [];
    expect([addPoint(points, [0.5, 0.5, 1]), addPoint(points, [0.5001, 0.5, 1]), addPoint(points, [0.51, 0.5, 1])]).toEqual([true, false, true]); // prettier-ignore
    expect(strokeLines([])).toEqual([]);
  });
});
