import { add, divide, fromNumber, multiply, subtract } from '../exact/fraction';
import { roundedText } from '../exact/rounding';
import { topOf } from './check-rubric';
import type { Criterion, CriterionMark } from './document';
import { levelReached } from './levels';

/** What a mark becomes when its criterion is changed; `gone`: the level that it stood on is there no more. */
export interface CarriedMark {
  mark: CriterionMark;
  gone: boolean;
}

/**
 * A mark of a criterion as it stands after the criterion was changed. On a level: on the same level, whatever it is worth
 * now. Between two: at the same share of the way from the one to the other. Where a level of it was taken out the points
 * stay, as far as the criterion still has so many. Left out stays left out.
 */
export function carryMark(from: Criterion, to: Criterion, mark: CriterionMark): CarriedMark {
  if ('leftOut' in mark) return { mark, gone: false };
  const { points } = mark;
  const { level, past } = levelReached(from, points);
  const same = (n: number) => (n === 0 ? undefined : to.levels.find((l) => l.id === from.levels[n - 1]!.id));
  const low = same(level);
  if (level > 0 && !past)
    return low ? { mark: { points: low.points }, gone: false } : { mark: { points: Math.min(points, topOf(to)) }, gone: true }; // prettier-ignore
  // Below the first level it is from nothing on.
  const high = level < from.levels.length ? same(level + 1) : undefined;
  const bottom = level === 0 ? 0 : low?.points;
  if (bottom === undefined || high === undefined || high.points < bottom)
    return { mark: { points: Math.min(points, topOf(to)) }, gone: true };
  const wasLow = level === 0 ? 0 : from.levels[level - 1]!.points;
  const share = divide(
    subtract(fromNumber(points), fromNumber(wasLow)),
    subtract(fromNumber(from.levels[level]!.points), fromNumber(wasLow)),
  );
  const gap = subtract(fromNumber(high.points), fromNumber(bottom));
  const at = add(fromNumber(bottom), multiply(share, gap));
  return { mark: { points: Number(roundedText(at, 4, 'half-up')) }, gone: false };
}

/** What of a criterion is not as it was: what a mark is worth, or what its words say. Null: nothing. */
export function criterionChange(from: Criterion | undefined, to: Criterion | undefined): 'points' | 'words' | null {
  if (!from || !to) return from === to ? null : 'points';
  const worth = (c: Criterion): string =>
    JSON.stringify([c.stands, c.weight ?? null, c.step ?? null, c.levels.map((l) => [l.id, l.points])]);
  if (worth(from) !== worth(to)) return 'points';
  const said = (c: Criterion): string => JSON.stringify([c.title, c.words ?? '', c.levels.map((l) => l.words)]);
  return said(from) === said(to) ? null : 'words';
}
