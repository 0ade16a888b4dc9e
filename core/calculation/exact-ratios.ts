import { add, divide, fraction, greatest, least, multiply, ONE, ZERO, type Fraction } from '../exact/fraction';
import { earnedAt, isFillable, KIND } from './cells/cells';
import type { CompiledBook, CompiledGroup, CompiledNode } from './compiled/compiled';
import type { CompiledVariant } from './compiled/variants';
import type { Estimate } from '../estimate/estimate';

/**
 * The exact ratio of every group of an estimated student, by group number, null where it is skipped (contract, section
 * 5): the estimate has chosen what is dropped, so that only sums are left to do. For a variant that {@link isSum}.
 */
export function exactRatios(compiled: CompiledBook, e: Estimate): (Fraction | null)[] {
  const ratios: (Fraction | null)[] = new Array<Fraction | null>(compiled.groups.length).fill(null);
  const possible: Fraction[] = new Array<Fraction>(compiled.groups.length).fill(ZERO);
  const base = e.student * compiled.cells.width;
  const { flat, bonusBase } = e.variant;

  const evaluate = (group: CompiledGroup, fill: boolean): void => {
    sum(group, fill);
    if (!fill && ratios[group.index] === null && flat.fills[group.index] === 1) sum(group, true);
  };

  const sum = (group: CompiledGroup, fill: boolean): void => {
    const { combine } = group.source;
    let above = ZERO;
    let below = ZERO;
    let extra = ZERO;
    let possibleHere = ZERO;
    let counting = 0;
    // Points of items are summed as whole ten-thousandths for as long as doubles hold them.
    let wholeAbove = 0;
    let wholeBelow = 0;
    // What dropped children had of it.
    let goneBelow = ZERO;
    for (const child of group.children) {
      let earned: Fraction;
      let out: Fraction;
      let ratio: Fraction | null;
      if (child.type === 'item') {
        if (!child.counts) continue;
        const at = base + child.index;
        const kind = compiled.cells.kind[at]!;
        const skipped = (kind & KIND.skipped) !== 0;
        if (skipped && !(fill && !child.optional && isFillable(kind))) continue;
        const gone = e.dropped[child.index] === 1;
        if (
          combine === 'points' &&
          !child.extraCredit &&
          !(kind & KIND.isExact) &&
          wholeAbove < 2 ** 52 &&
          wholeBelow < 2 ** 52
        ) {
          counting++;
          if (gone) {
            goneBelow = add(goneBelow, child.points);
            continue;
          }
          if (!skipped) wholeAbove += Math.round(compiled.cells.earned[at]! * 10_000);
          wholeBelow += Math.round(child.source.points * 10_000);
          continue;
        }
        earned = skipped ? ZERO : earnedAt(compiled.cells, at)!;
        out = child.points;
        ratio = combine === 'points' ? null : divide(earned, out);
      } else {
        // A tree with alsos is not worked out here.
        if (child.type === 'also') continue;
        evaluate(child, fill);
        ratio = ratios[child.index]!;
        if (ratio === null) continue;
        out = possible[child.index]!;
        earned = combine === 'points' ? multiply(ratio, out) : ZERO;
      }
      const share = combine === 'points' ? out : combine === 'equal' ? ONE : child.weight;
      const brings = combine === 'points' ? earned : combine === 'equal' ? ratio! : multiply(ratio!, share);
      if (child.extraCredit) extra = add(extra, brings);
      else if (share.n !== 0) {
        counting++;
        if (combine !== 'points') possibleHere = add(possibleHere, out);
        if (isGone(e, child)) {
          goneBelow = add(goneBelow, share);
          continue;
        }
        above = add(above, brings);
        below = add(below, share);
      }
    }
    if (counting === 0) {
      ratios[group.index] = null;
      possible[group.index] = ZERO;
      return;
    }
    if (wholeBelow > 0) {
      above = add(above, fraction(wholeAbove, 10_000));
      below = add(below, fraction(wholeBelow, 10_000));
    }
    if (below.n === 0) {
      // What is dropped was chosen with blanks taken as nothing, for a group above that is empty without them: this pass
      // is only to find that it is empty, and the figure of it is not used.
      ratios[group.index] = ZERO;
      possible[group.index] = combine === 'points' ? goneBelow : possibleHere;
      return;
    }
    let ratio =
      combine === 'points'
        ? divide(add(above, extra), below)
        : extra.n === 0
          ? divide(above, below)
          : add(divide(above, below), divide(extra, bonusBase[group.index]!));
    if (group.cap !== null) ratio = least(ratio, group.cap);
    if (group.floor !== null) ratio = greatest(ratio, group.floor);
    ratios[group.index] = ratio;
    possible[group.index] = combine === 'points' ? below : possibleHere;
  };
  evaluate(compiled.root, false);
  return ratios;
}

/** Nothing but points, weights and equal shares with drops, blanks, extra credit, caps and floors. */
export const isSum = (compiled: CompiledBook, variant: CompiledVariant): boolean =>
  variant.name === null &&
  compiled.alsos.length === 0 &&
  compiled.groups.every(
    (g) =>
      !g.extraCredit &&
      g.then === null &&
      g.extraAtMost === null &&
      g.source.combine !== 'median' &&
      g.source.combine !== 'decaying',
  );

const isGone = (e: Estimate, child: CompiledNode): boolean =>
  (child.type === 'item' ? e.dropped[child.index] : e.droppedGroups[child.index]) === 1;
