import type { Criterion } from '@core/rubric/document';

/** Where points lie on the rule: levels stand at even distances, from nothing on; between two it goes by points. */
export function placeOnRule(criterion: Criterion, points: number): number {
  const bounds = criterion.levels.map((l) => l.points);
  if ((bounds[0] ?? 0) > 0) bounds.unshift(0);
  const parts = Math.max(1, bounds.length - 1);
  if (bounds.length === 1) return points > 0 ? 100 : 0;
  const low = Math.max(0, Math.min(parts - 1, bounds.findLastIndex((b) => b <= points))); // prettier-ignore
  const share = (points - bounds[low]!) / (bounds[low + 1]! - bounds[low]!);
  return Math.max(0, Math.min(100, (100 * (low + share)) / parts));
}
