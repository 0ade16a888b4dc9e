import type { Group } from '@core/book/document';
import { itemsIn, type Draft } from '../draft';

/** What each child of a group counts there, and what they come to: weights, or 1 each; extra credit takes no part. */
export interface Shares {
  sum: number;
  of: Map<string, number>;
}

export function sharesIn(draft: Draft, group: Group): Shares {
  const of = new Map<string, number>();
  for (const c of group.children)
    if (!c.extraCredit && (c.type === 'group' || (c.type === 'also' && !c.standsIn)))
      of.set(c.id, group.combine === 'weights' ? (c.weight ?? 1) : 1);
  for (const i of itemsIn(draft, group.id))
    if (!i.settings.extraCredit && i.settings.counts !== false)
      of.set(i.id, group.combine === 'weights' ? (i.settings.weight ?? 1) : group.combine === 'points' ? i.points : 1);
  // Weights have at most four decimals: summed as whole ten-thousandths nothing is lost.
  const sum = [...of.values()].reduce((n, w) => n + Math.round(w * 10_000), 0) / 10_000;
  return { sum, of };
}

/** "30 %", to one decimal. */
export function shareOf({ sum, of }: Shares, id: string): string {
  return `${sum === 0 ? 0 : Math.round(((of.get(id) ?? 0) / sum) * 1000) / 10} %`;
}
