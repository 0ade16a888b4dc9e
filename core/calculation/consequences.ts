import {
  add,
  compare,
  divide,
  fraction,
  greatest,
  HUNDRED,
  least,
  multiply,
  subtract,
  ZERO,
  type Fraction,
} from '../exact/fraction';
import type { CompiledItem, CompiledNode } from './compiled/compiled';
import type { TreeOutcome } from './groups';
import { failedCount, isNode, type CompiledCount, type CompiledHurdles, type OtherHurdle } from './hurdles';
import type { CellValue } from './cells/value';

/** A student's tree as hurdles look at it (contract, section 6). */
export interface Worked {
  values: readonly CellValue[];
  tree: TreeOutcome;
  closing: boolean;
}

/** The percentage after all caps and then all counts. */
export function afterHurdles(hurdles: CompiledHurdles, worked: Worked, percent: Fraction): Fraction {
  let exact = percent;
  for (const h of hurdles.byNode) {
    const reached = reachedOrOpen(h.node, worked);
    if (reached === null) continue;
    const failed = failedCount(h, (k) => compare(reached, h.exactAtLeast[k]!) < 0);
    if (failed > 0) exact = least(exact, h.exactCapAt[failed - 1]!);
  }
  for (const h of hurdles.others) {
    const cap = h.capAt !== null && doesFail(h, worked) ? capOf(h.capAt, worked) : null;
    if (cap !== null) exact = least(exact, cap);
  }
  if (hurdles.counts.length === 0) return exact;
  const taken = hurdles.counts.reduce(
    (sum, c) => (c.percent === null ? sum : add(sum, multiply(c.percent, timesOf(c, worked.values)))),
    ZERO,
  );
  return greatest(subtract(exact, taken), ZERO);
}

/** How many bands all counts together take off the letter. */
export const bandsTaken = (hurdles: CompiledHurdles, values: readonly CellValue[]): number =>
  hurdles.counts.reduce((sum, c) => (c.letters === 0 ? sum : sum + Number(timesOf(c, values).n) * c.letters), 0);

/** The letter that the first failing hurdle gives; null: none does. */
export const letterOfHurdles = (hurdles: CompiledHurdles, worked: Worked): string | null =>
  hurdles.others.find((h) => h.letter !== null && doesFail(h, worked))?.letter ?? null;

/** How often a count takes off: a whole number. */
export function timesOf({ item, over, each, most }: CompiledCount, values: readonly CellValue[]): Fraction {
  const { earned } = values[item.index]!;
  if (earned === null || compare(earned, over) <= 0) return ZERO;
  const times = divide(subtract(earned, over), each);
  const whole = fraction((BigInt(times.n) + BigInt(times.d) - 1n) / BigInt(times.d));
  return most === null ? whole : least(whole, fraction(most));
}

export function doesFail({ node, atLeast }: OtherHurdle, worked: Worked): boolean {
  if (atLeast === null) return !isHandedIn(worked.values[(node as CompiledItem).index]!, worked.closing);
  const reached = reachedOrOpen(node, worked);
  return reached !== null && compare(reached, atLeast) < 0;
}

/** False where it is missing, whatever its blank rule makes of it; in closing also where it is still awaited. */
function isHandedIn({ state, taken }: CellValue, closing: boolean): boolean {
  if (taken !== undefined) return state === 'pending' || taken === 'high';
  return state !== 'missing' && !(state === 'awaiting' && closing);
}

/** What a failing hurdle holds the percentage at; null: nothing, as the other node has no figure yet. */
export const capOf = (cap: Fraction | CompiledNode, worked: Worked): Fraction | null =>
  isNode(cap) ? reachedOrOpen(cap, worked) : cap;

const reachedOrOpen = (node: CompiledNode, { values, tree }: Worked): Fraction | null =>
  isOpen(node, values) ? null : reachedBy(node, values, tree);

/** What a node has reached, in percent; null where it is skipped. */
export function reachedBy(node: CompiledNode, values: readonly CellValue[], tree: TreeOutcome): Fraction | null {
  if (node.type === 'item') {
    const earned = values[node.index]!.earned;
    return earned === null ? null : multiply(divide(earned, node.points), HUNDRED);
  }
  const ratio = (node.type === 'group' ? tree.outcomes : tree.alsos)[node.index]!.ratio;
  return ratio === null ? null : multiply(ratio, HUNDRED);
}

/**
 * A half-marked node waits: section 6. Only items that count, and are not optional, keep a group open; and what is
 * counted by alsos that are not optional.
 */
export function isOpen(node: CompiledNode, values: readonly CellValue[]): boolean {
  if (node.type === 'item') return values[node.index]!.open;
  if (node.type === 'also') return isOpen(node.of, values);
  return node.children.some((child) => {
    if (child.type === 'item') return child.counts && values[child.index]!.open;
    return !(child.type === 'also' && child.optional) && isOpen(child, values);
  });
}
