import { add, compare, divide, fromNumber, subtract, type Fraction } from '../exact/fraction';
import { roundedText } from '../exact/rounding';
import { MOST_PARTS, type Criterion } from './document';

/** Which level points reach: the highest that is not above them, from 1; 0 below the first. `past`: they are above it. */
export function levelReached(c: Pick<Criterion, 'levels'>, points: number): { level: number; past: boolean } {
  const level = c.levels.findLastIndex((l) => l.points <= points) + 1;
  return { level, past: level > 0 && c.levels[level - 1]!.points < points };
}

const TWO = fromNumber(2);

/**
 * The points that can be given in part: every level, and between two of them by the step that the criterion names, else
 * half of the gap. From 0 where the first level is worth more. Rising, each once, with four decimals at most.
 */
export function partPoints(c: Pick<Criterion, 'levels' | 'step'>): number[] {
  const bounds = c.levels.map((l) => l.points);
  if ((bounds[0] ?? 0) > 0) bounds.unshift(0);
  const found = new Set<number>();
  bounds.forEach((low, i) => {
    found.add(low);
    const high = bounds[i + 1];
    if (high === undefined) return;
    const [from, to] = [fromNumber(low), fromNumber(high)];
    const step = c.step === undefined ? divide(subtract(to, from), TWO) : fromNumber(c.step);
    for (let at: Fraction = add(from, step), n = 0; compare(at, to) < 0 && n < MOST_PARTS; at = add(at, step), n++)
      found.add(Number(roundedText(at, 4, 'half-up')));
  });
  return [...found].sort((a, b) => a - b);
}

/** The next points that can be given in part above or below some; the same at the end. Null: nothing is given yet. */
export function stepFrom(c: Pick<Criterion, 'levels' | 'step'>, points: number | null, by: 1 | -1): number {
  const all = partPoints(c);
  if (points === null) return by === 1 ? all[0]! : all[all.length - 1]!;
  const next = by === 1 ? all.find((p) => p > points) : all.findLast((p) => p < points);
  return next ?? points;
}
