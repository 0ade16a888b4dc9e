import { add, compare, divide, greatest, least, multiply, subtract, ZERO, ONE, type Fraction } from '../exact/fraction';
import type { CompiledGroup, CompiledNode } from './compile';
import type { ItemValue } from './value';

/** A child as its group sees it (contract, section 5). `ratio` is of one, `earned` is ratio × share. */
export interface ChildShare {
  node: CompiledNode;
  ratio: Fraction;
  share: Fraction;
  earned: Fraction;
  droppable: boolean;
  /** Taken as nothing by `whenEmpty: "zero"`. */
  filled: boolean;
}

/** How a group came about, step by step. `ratio` null: the group is skipped. */
export interface GroupOutcome {
  group: CompiledGroup;
  counting: ChildShare[];
  staying: ChildShare[];
  droppedLowest: ChildShare[];
  droppedHighest: ChildShare[];
  plain: Fraction | null;
  /** Each extra-credit child with what it adds to the ratio. */
  extras: { node: CompiledNode; adds: Fraction }[];
  beforeLimits: Fraction | null;
  ratio: Fraction | null;
  possible: Fraction;
  filled: boolean;
}

/** One pass over the tree for one student. `outcomes` is by group number, `dropped` by item number. */
export interface TreeOutcome {
  root: GroupOutcome;
  outcomes: GroupOutcome[];
  dropped: boolean[];
}

/** `values` by item number. */
export function evaluateTree(root: CompiledGroup, values: readonly ItemValue[]): TreeOutcome {
  const outcomes: GroupOutcome[] = [];
  const dropped: boolean[] = [];
  const result = evaluateGroup(root, values, false, outcomes, dropped);
  return { root: result, outcomes, dropped };
}

function evaluateGroup(
  group: CompiledGroup,
  values: readonly ItemValue[],
  fill: boolean,
  outcomes: GroupOutcome[],
  dropped: boolean[],
): GroupOutcome {
  let outcome = workOut(group, values, fill, outcomes, dropped);
  // Step 6: an empty category that its rule takes as nothing, unless it is (under) extra credit.
  if (outcome.ratio === null && !fill && group.source.whenEmpty === 'zero' && !group.optional) {
    outcome = workOut(group, values, true, outcomes, dropped);
    outcome.filled = outcome.ratio !== null;
  }
  outcomes[group.index] = outcome;
  return outcome;
}

function workOut(
  group: CompiledGroup,
  values: readonly ItemValue[],
  fill: boolean,
  outcomes: GroupOutcome[],
  dropped: boolean[],
): GroupOutcome {
  const combine = group.source.combine;
  const counting: ChildShare[] = [];
  const extra: { node: CompiledNode; ratio: Fraction | null; earned: Fraction; share: Fraction }[] = [];
  for (const node of group.children) {
    let earned: Fraction | null;
    let possible: Fraction;
    let droppable = !node.alwaysKept;
    let filled = false;
    let ratio: Fraction | null;
    if (node.type === 'item') {
      dropped[node.index] = false;
      const value = values[node.index]!;
      earned = value.earned;
      if (earned === null && fill && !node.optional && (value.state === 'blank' || value.state === 'missing')) {
        earned = ZERO;
        filled = true;
      }
      if (!node.counts || earned === null) continue;
      possible = node.points;
      ratio = possible.n === 0 ? null : divide(earned, possible);
      droppable &&= !value.protected;
    } else {
      const inner = evaluateGroup(node, values, fill, outcomes, dropped);
      if (inner.ratio === null) continue;
      ratio = inner.ratio;
      possible = inner.possible;
      earned = multiply(ratio, possible);
    }
    const share = combine === 'points' ? possible : combine === 'equal' ? ONE : node.weight;
    if (node.extraCredit) {
      extra.push({ node, ratio, earned, share });
      continue;
    }
    if (share.n === 0 || ratio === null) continue;
    const worth = combine === 'points' ? earned : combine === 'equal' ? ratio : multiply(ratio, share);
    counting.push({ node, ratio, share, earned: worth, droppable, filled });
  }
  if (counting.length === 0) return skipped(group);

  const lowest = chooseLowest(counting, wantedLowest(group, counting));
  const afterLowest = counting.filter((c) => !lowest.includes(c));
  const highest = chooseHighest(afterLowest, group.source.drop?.highest ?? 0);
  const staying = highest.length === 0 ? afterLowest : afterLowest.filter((c) => !highest.includes(c));
  for (const c of [...lowest, ...highest]) if (c.node.type === 'item') dropped[c.node.index] = true;

  const sum = sumShares(staying);
  const plain = divide(sum.earned, sum.share);
  const extras = extra.map((e) => ({
    node: e.node,
    adds:
      combine === 'points'
        ? divide(e.earned, sum.share)
        : e.ratio === null || group.bonusBase === null
          ? ZERO
          : divide(multiply(e.ratio, e.share), group.bonusBase),
  }));
  const beforeLimits = extras.reduce((total, e) => add(total, e.adds), plain);
  let ratio = beforeLimits;
  if (group.cap !== null) ratio = least(ratio, group.cap);
  if (group.floor !== null) ratio = greatest(ratio, group.floor);
  const possible = (combine === 'points' ? staying : counting).reduce(
    (total, c) => add(total, possibleOf(c, outcomes)),
    ZERO,
  );
  return {
    group,
    counting,
    staying,
    droppedLowest: lowest,
    droppedHighest: highest,
    plain,
    extras,
    beforeLimits,
    ratio,
    possible,
    filled: false,
  };
}

function skipped(group: CompiledGroup): GroupOutcome {
  return {
    group,
    counting: [],
    staying: [],
    droppedLowest: [],
    droppedHighest: [],
    plain: null,
    extras: [],
    beforeLimits: null,
    ratio: null,
    possible: ZERO,
    filled: false,
  };
}

const possibleOf = (c: ChildShare, outcomes: GroupOutcome[]): Fraction =>
  c.node.type === 'item' ? c.node.points : outcomes[c.node.index]!.possible;

function sumShares(children: readonly ChildShare[]): { earned: Fraction; share: Fraction } {
  let earned = ZERO;
  let share = ZERO;
  for (const c of children) {
    earned = add(earned, c.earned);
    share = add(share, c.share);
  }
  return { earned, share };
}

/** How many of the lowest the rule wants to drop, before what can be dropped limits it. */
function wantedLowest(group: CompiledGroup, counting: readonly ChildShare[]): number {
  const { drop, keepBest } = group.source;
  if (keepBest === undefined) return drop?.lowest ?? 0;
  return Math.max(0, counting.filter((c) => c.droppable).length - keepBest);
}

/**
 * The n children whose leaving makes the plain ratio highest. The best ratio r is found by Dinkelbach's iteration
 * (W. Dinkelbach, On nonlinear fractional programming, 1967): with r given, the best n to leave out are those with the
 * smallest earned − r × share; the ratio of what stays is the next r; it rises until it stands still.
 */
export function chooseLowest(counting: readonly ChildShare[], wanted: number): ChildShare[] {
  const droppable = counting.filter((c) => c.droppable);
  const n = Math.min(wanted, droppable.length, counting.length - 1);
  if (n <= 0) return [];
  const all = sumShares(counting);
  let r = divide(all.earned, all.share);
  for (;;) {
    const worth = droppable.map((c, at) => ({ c, at, v: subtract(c.earned, multiply(r, c.share)) }));
    worth.sort((a, b) => compare(a.v, b.v) || a.at - b.at);
    const out = worth.slice(0, n).map((w) => w.c);
    const gone = sumShares(out);
    const next = divide(subtract(all.earned, gone.earned), subtract(all.share, gone.share));
    // The first r is that of no set of n, so it may lie above every one of them: only a repeat is the end.
    if (compare(next, r) === 0) return out;
    r = next;
  }
}

function chooseHighest(staying: readonly ChildShare[], wanted: number): ChildShare[] {
  const droppable = staying.filter((c) => c.droppable);
  const n = Math.min(wanted, droppable.length, staying.length - 1);
  if (n <= 0) return [];
  return droppable
    .map((c, at) => ({ c, at }))
    .sort((a, b) => compare(b.c.ratio, a.c.ratio) || a.at - b.at)
    .slice(0, n)
    .map((w) => w.c);
}
