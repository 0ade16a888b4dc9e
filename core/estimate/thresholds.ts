import { U } from './choose-drops';
import type { Estimate } from './state';

/** Whether a ratio reaches a percentage; too close to call makes the estimate inconclusive. */
export function reaches(e: Estimate, ratio: number, percent: number, error: number): boolean {
  const reached = ratio * 100;
  // Nothing and all of it, where an item is open, are known exactly.
  const isKnown = ratio === 0 || (ratio === 1 && error === 0);
  if (!isKnown && Math.abs(reached - percent) <= (error + 4) * U * Math.max(reached, percent)) e.isInconclusive = true;
  return reached >= percent;
}

/** 1 where a decimal of points reaches a percentage of others, 0 where not; NaN: doubles cannot tell exactly. */
export function reachesExactly(earned: number, points: number, percent: number): number {
  const left = Math.round(earned * 10_000) * 1_000_000;
  const right = Math.round(percent * 10_000) * Math.round(points * 10_000);
  if (!(left <= Number.MAX_SAFE_INTEGER && right <= Number.MAX_SAFE_INTEGER)) return NaN;
  return left >= right ? 1 : 0;
}
