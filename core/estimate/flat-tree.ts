import { toNumber } from '../exact/fraction';
import type { CompiledGroup, CompiledItem } from '../calculation/compile';

/**
 * The tree as flat arrays, for the estimate: groups by their number, the children of group g at childFrom[g] to
 * childFrom[g + 1] in book order. A child is an item's number, or the complement (~) of a group's.
 *
 * `error…` bounds how far a double may be off, as a multiple of 2^-53 of the figure itself. All figures of the tree are
 * sums, products and quotients of numbers that are never negative, so relative errors add up and never blow up; the
 * bounds hang on the shape of the tree alone (docs/decisions/006).
 */
export interface FlatTree {
  childFrom: Int32Array;
  /** One past the last group below a group: what is below follows it without a gap. */
  end: Int32Array;
  child: Int32Array;
  childFlags: Uint8Array;
  /** Weight, 1 or points of an item by the group's combine; a group in a `points` group brings its own possible. */
  childShare: Float64Array;
  childError: Float64Array;
  combine: Uint8Array;
  /** Group has child groups. */
  nested: Uint8Array;
  lowest: Int32Array;
  highest: Int32Array;
  /** 0: no such rule. */
  keepBest: Int32Array;
  cap: Float64Array;
  floor: Float64Array;
  bonusBase: Float64Array;
  /** Takes blanks as nothing where it would be empty; and: some group above it does. */
  fills: Uint8Array;
  underFills: Uint8Array;
  errorRatio: Float64Array;
  errorPossible: Float64Array;
  points: Float64Array;
  optional: Uint8Array;
  widest: number;
}

export const COMBINE = { points: 0, weights: 1, equal: 2 } as const;
export const CHILD = { extra: 1, kept: 2, idle: 4 } as const;

/** An item's earned points: the nearest double of a decimal, or of a fraction of big integers. */
export const ERROR_EARNED = 3;
const ERROR_POINTS = 1;

const fills = (g: CompiledGroup): boolean => g.source.whenEmpty === 'zero' && !g.optional;

function someAbove(g: CompiledGroup, is: (g: CompiledGroup) => boolean): boolean {
  for (let above = g.parent; above !== null; above = above.parent) if (is(above)) return true;
  return false;
}

const whole = (n: number | undefined): number => Math.min(n ?? 0, 2 ** 31 - 1);

export function flatten(items: readonly CompiledItem[], groups: readonly CompiledGroup[]): FlatTree {
  const G = groups.length;
  const total = groups.reduce((n, g) => n + g.children.length, 0);
  const flat: FlatTree = {
    childFrom: new Int32Array(G + 1),
    end: new Int32Array(G),
    child: new Int32Array(total),
    childFlags: new Uint8Array(total),
    childShare: new Float64Array(total),
    childError: new Float64Array(total),
    combine: Uint8Array.from(groups, (g) => COMBINE[g.source.combine]),
    nested: Uint8Array.from(groups, (g) => (g.children.some((c) => c.type === 'group') ? 1 : 0)),
    lowest: Int32Array.from(groups, (g) => whole(g.source.drop?.lowest)),
    highest: Int32Array.from(groups, (g) => whole(g.source.drop?.highest)),
    keepBest: Int32Array.from(groups, (g) => whole(g.source.keepBest)),
    cap: Float64Array.from(groups, (g) => (g.cap === null ? Infinity : toNumber(g.cap))),
    floor: Float64Array.from(groups, (g) => (g.floor === null ? 0 : toNumber(g.floor))),
    bonusBase: Float64Array.from(groups, (g) => (g.bonusBase === null ? NaN : toNumber(g.bonusBase))),
    fills: Uint8Array.from(groups, (g) => (fills(g) ? 1 : 0)),
    underFills: Uint8Array.from(groups, (g) => (someAbove(g, fills) ? 1 : 0)),
    errorRatio: new Float64Array(G),
    errorPossible: new Float64Array(G),
    points: Float64Array.from(items, (i) => i.source.points),
    optional: Uint8Array.from(items, (i) => (i.optional ? 1 : 0)),
    widest: groups.reduce((n, g) => Math.max(n, g.children.length), 0),
  };
  let at = 0;
  groups.forEach((g, i) => {
    flat.childFrom[i] = at;
    for (const c of g.children) {
      flat.child[at] = c.type === 'item' ? c.index : ~c.index;
      const idle = c.type === 'item' && !c.counts;
      flat.childFlags[at] =
        (c.extraCredit ? CHILD.extra : 0) | (c.alwaysKept ? CHILD.kept : 0) | (idle ? CHILD.idle : 0);
      flat.childShare[at] =
        g.source.combine === 'equal'
          ? 1
          : g.source.combine === 'weights'
            ? (c.source.weight ?? 1)
            : c.type === 'item'
              ? c.source.points
              : NaN;
      at++;
    }
    flat.childFrom[i + 1] = at;
  });
  // A group comes before its children, so from the last to the first every child is known.
  for (let i = G - 1; i >= 0; i--) {
    flat.end[i] = i + 1;
    for (const c of groups[i]!.children) if (c.type === 'group') flat.end[i] = flat.end[c.index]!;
    boundErrors(flat, i);
  }
  return flat;
}

/** Errors of one group from those of its children; see the sums in estimate.ts, operation by operation. */
function boundErrors(flat: FlatTree, g: number): void {
  const from = flat.childFrom[g]!;
  const to = flat.childFrom[g + 1]!;
  let ratio = 0;
  let possible = 0;
  for (let c = from; c < to; c++) {
    const ref = flat.child[c]!;
    const childRatio = ref >= 0 ? ERROR_EARNED + ERROR_POINTS + 1 : flat.errorRatio[~ref]!;
    const childPossible = ref >= 0 ? ERROR_POINTS : flat.errorPossible[~ref]!;
    // What the child brings to the sum above the line, and its share below it.
    flat.childError[c] = childRatio + childPossible + 1;
    ratio = Math.max(ratio, childRatio);
    possible = Math.max(possible, childPossible);
  }
  const sum = to - from;
  const above = ratio + possible + 2 + sum;
  const below = possible + 1 + sum;
  // The quotient, and for extra credit its own quotient by W (itself off by at most 3) and the sum with it.
  flat.errorRatio[g] = above + below + 1 + 6 + 2;
  flat.errorPossible[g] = possible + sum;
}
